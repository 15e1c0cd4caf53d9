import { toast } from "sonner";
import type { Cut, Extents } from "../../api/client";
import { useBench } from "../../desk/drawings-state";
import { type Camera, toScreen } from "../../drawing/camera";
import type { PaperPointer } from "../../drawing/DrawingCanvas";
import type { View } from "../../drawing/screen-form";
import { OPEN_EXTENTS, onModel, rounded } from "../cutting/plan-geometry";

const NEAR = 10; // pixels about an edge in which a click is meant for it
const LEAST = 0.01; // metres
type Edge = Extents["broken"][number];

/** Clicks that break a drawing: one on an edge sets or takes off its break line; two elsewhere take out what lies
 * between them, along the axis in which they lie further apart. */
export function useBreaks(
  drawing: number | undefined,
  scale: number,
  cut: Cut | undefined,
  view: View | null,
  onSave: (cut: Cut) => void,
) {
  const { clicking, corners, setCorners, setClicking } = useBench();
  const first = corners?.drawing === drawing ? corners?.points[0] : undefined;
  const save = (change: Partial<Extents>) => {
    if (!cut) return;
    setClicking(null);
    onSave({ ...cut, extents: { ...OPEN_EXTENTS, ...cut.extents, ...change } } as Cut);
  };
  return {
    active: clicking === "break" && drawing !== undefined,
    onClick: ({ paper, zoom }: PaperPointer) => {
      if (!cut || !view || drawing === undefined) return;
      const extents = { ...OPEN_EXTENTS, ...cut.extents };
      const edge = first ? undefined : edgeAt(view, paper, zoom);
      if (edge) {
        const on = extents.broken.includes(edge);
        save({ broken: on ? extents.broken.filter((e) => e !== edge) : [...extents.broken, edge] });
        return;
      }
      const at = rounded(onModel(paper, scale));
      if (!first) {
        setCorners({ drawing, points: [at] });
        return;
      }
      const k = Math.abs(at[0] - first[0]) >= Math.abs(at[1] - first[1]) ? 0 : 1;
      const [start, end] = [Math.min(first[k], at[k]), Math.max(first[k], at[k])];
      if (end - start < LEAST) toast("There is nothing between these points to take out.");
      else save({ breaks: [...extents.breaks, { axis: k === 0 ? "u" : "v", start, end }] });
    },
  };
}

function edgeAt(view: View, paper: { x: number; y: number }, zoom: number): Edge | undefined {
  const [left, base, right, top] = view.window;
  const flat: Camera = { left: 0, top: 0, zoom };
  const [p, a, b] = [paper, { x: left, y: base }, { x: right, y: top }].map((q) => toScreen(flat, q));
  if (!p || !a || !b) return undefined;
  const far: [Edge, number][] = [
    ["left", Math.abs(p.x - a.x)],
    ["right", Math.abs(p.x - b.x)],
    ["base", Math.abs(p.y - a.y)],
    ["top", Math.abs(p.y - b.y)],
  ];
  const [edge, distance] = far.reduce((best, one) => (one[1] < best[1] ? one : best));
  return distance < NEAR ? edge : undefined;
}
