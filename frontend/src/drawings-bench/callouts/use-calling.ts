import { useHotkeys } from "react-hotkeys-hook";
import { toast } from "sonner";
import { callOut, leadTo } from "../../api/callouts";
import type { Drawing, Region } from "../../api/client";
import { putDrawing, queryClient, report } from "../../api/queries";
import { type Place, useBench } from "../../desk/drawings-state";
import type { PaperPointer } from "../../drawing/DrawingCanvas";
import { closesRing, distance, onModel, rounded } from "../cutting/plan-geometry";

const LEAST = 0.02; // metres

/** Clicks in a pane that draw a region of its drawing, which is then called out. */
export function useCalling(
  project: number,
  drawing: Drawing | undefined,
  scale: number,
  onMade: (id: number) => void,
) {
  const { calling, setCalling } = useBench();
  const mine = calling !== null && (calling.drawing === undefined || calling.drawing === drawing?.id);
  const finish = async (points: Place[]) => {
    if (!calling || !drawing) return;
    setCalling(null);
    const region: Region = { shape: calling.shape, points, u: null, v: null };
    try {
      if (typeof calling.to === "number" || calling.to === "blank") {
        const made = await leadTo(drawing.id, region, calling.to, sizeOf(points));
        if (calling.to === "blank") onMade(made.target_id);
        return;
      }
      const made = await callOut(drawing.id, region, calling.to);
      putDrawing(queryClient, project, made);
      onMade(made.id);
    } catch (error) {
      report(error);
    }
  };
  const close = () => {
    if (calling && calling.points.length > 2) void finish(calling.points);
    else toast("A region needs three corners or more; nothing was made.");
  };
  useHotkeys(
    "enter",
    close,
    { enabled: mine && calling.shape === "polygon" && calling.points.length > 0, preventDefault: true },
    [calling],
  );
  return {
    active: mine && drawing !== undefined,
    onClick: ({ paper, zoom }: PaperPointer) => {
      if (!calling || !drawing) return;
      const at = rounded(onModel(paper, scale));
      const [first] = calling.points;
      if (calling.shape === "polygon") {
        if (closesRing(calling.points, at, zoom, scale)) close();
        else setCalling({ ...calling, drawing: drawing.id, points: [...calling.points, at] });
      } else if (!first) setCalling({ ...calling, drawing: drawing.id, points: [at] });
      else if (distance(first, at) < LEAST) toast("The region has no size yet; click further away.");
      else void finish([first, at]);
    },
    onMove: ({ paper }: PaperPointer) => {
      if (calling && calling.points.length > 0)
        setCalling({ ...calling, pointer: rounded(onModel(paper, scale)) });
    },
  };
}

function sizeOf(points: Place[]): [number, number] {
  const span = (k: 0 | 1) => Math.max(...points.map((p) => p[k])) - Math.min(...points.map((p) => p[k]));
  return [Math.max(0.1, span(0)), Math.max(0.1, span(1))];
}
