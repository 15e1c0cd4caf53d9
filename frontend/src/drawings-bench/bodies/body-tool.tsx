import { toast } from "sonner";
import { planeOf } from "../../api/corrections";
import { report } from "../../api/queries";
import { atLength, useDrawn } from "../../corrections/body";
import { goesOnIn, held, type Place, useMode } from "../../desk/mode";
import { toScreen } from "../../drawing/camera";
import type { PaperPointer } from "../../drawing/canvas/DrawingCanvas";
import { lengthsNow, useLengths } from "../../fields/lengths";
import { useCommand } from "../../shell/commands";
import { SNAP_REACH } from "../cutting/CuttingLine";
import { closesRing, distance, onModel, onPaper, straight } from "../cutting/plan-geometry";
import { drawnIn } from "../cutting/snaps";
import { type Over, type Pane, tool } from "../modes/tool";

/** The outline of a body being drawn, metres in its drawing; `typed`: a length that is being typed. */
type Outline = {
  kind: "body";
  drawing: number | null;
  points: Place[];
  pointer: Place | null;
  typed: string;
};
const body = held<Outline>("body");
const BEGUN = { drawing: null, points: [], pointer: null, typed: "" };
export const startBody = () => body.set(BEGUN);
const TYPED = /^[\d.,'"/ +*-]$/;

export const useBodyCommand = (enabled: boolean) =>
  useCommand({
    name: "Draw a body that is in no file",
    group: "Drawing",
    keys: "j",
    enabled,
    run: () => body.set(body.now() ? null : BEGUN),
  });

const FLAT = new Set(["section", "elevation", "plan", "plane"]);

function placed({ paper, zoom, alt, shift }: PaperPointer, pane: Pane, { points }: Outline): Place {
  const free = onModel(paper, pane.scale);
  const last = points.at(-1);
  const reach = (SNAP_REACH / zoom) * (pane.scale / 1000);
  const snap = alt ? null : drawnIn(pane.view).find(free, reach, last);
  useMode.getState().setSnap(snap);
  if (snap) return snap.at;
  return shift && last ? straight(last, free) : free;
}

const tidy = ([x, y]: Place): Place => [Math.round(x * 1e4) / 1e4, Math.round(y * 1e4) / 1e4];

async function close({ project, drawing, spec }: Pane, { points }: Outline) {
  body.set(null);
  if (!drawing) return;
  if (points.length < 2) {
    toast("A run needs two points, an outline three; nothing was drawn.");
    return;
  }
  try {
    const plane = await planeOf(project.id, spec);
    const onPlan = spec.cut.kind === "plan";
    useDrawn.setState({
      drawn: {
        project: project.id,
        drawing: drawing.id,
        outline: points,
        plane,
        onPlan,
        along: points.length < 3,
      },
    });
  } catch (error) {
    report(error);
  }
}

function add(pane: Pane, mode: Outline, at: Place) {
  const points = [...mode.points, tidy(at)];
  body.set({ ...mode, drawing: pane.drawing?.id ?? null, points, typed: "" });
}

/** An outline through corners that are clicked, or typed as lengths, becomes a body. */
export const bodyTool = tool({
  held: body,
  works: (pane, mode) => FLAT.has(pane.spec.cut.kind) && goesOnIn(mode, pane.drawing),
  click: (pointer, pane, mode) => {
    const at = placed(pointer, pane, mode);
    if (closesRing(mode.points, at, pointer.zoom, pane.scale)) close(pane, mode);
    else add(pane, mode, at);
  },
  move: (pointer, pane, mode) => body.set({ ...mode, pointer: placed(pointer, pane, mode) }),
  key: ({ key, ctrlKey, metaKey }, pane, mode) => {
    const last = mode.points.at(-1);
    if (ctrlKey || metaKey || !last) return false;
    if (TYPED.test(key)) body.set({ ...mode, typed: mode.typed + key });
    else if (key === "Backspace" && mode.typed) body.set({ ...mode, typed: mode.typed.slice(0, -1) });
    else if (key === "Backspace") body.set({ ...mode, points: mode.points.slice(0, -1) });
    else if (key !== "Enter") return false;
    else if (!mode.typed) close(pane, mode);
    else {
      const metres = lengthsNow().parse(mode.typed);
      if (metres && mode.pointer) add(pane, mode, atLength(last, mode.pointer, metres));
      else body.set({ ...mode, typed: "" });
    }
    return true;
  },
  back: (mode) => (mode.points.length > 0 ? BEGUN : null),
  Foot: BodyFoot,
  Over: BodyOver,
});

function BodyFoot() {
  const mode = body.useHeld();
  const { say, unit } = useLengths();
  if (!mode) return null;
  const last = mode.points.at(-1);
  if (!last)
    return <>Click the corners of what is missing; it snaps to what is drawn, Alt lets go. Esc leaves.</>;
  const far = mode.pointer ? distance(last, mode.pointer) : 0;
  return (
    <span className="figures" role="status">
      {mode.typed ? `${mode.typed} ${unit}` : say(far)} · type a length and press Enter, or click; Shift keeps
      it straight. Enter ends it, as an outline or a run; a click on the first corner, too.
    </span>
  );
}

/** The outline that is drawn, or that was and waits for its form. */
function BodyOver({ pane, camera }: Over) {
  const mode = body.useHeld();
  if (!mode || (mode.drawing !== null && mode.drawing !== pane.drawing?.id)) return null;
  const line = [...mode.points, ...(mode.pointer && mode.points.length > 0 ? [mode.pointer] : [])];
  const spots = line.map((p) => toScreen(camera, onPaper(p, pane.scale)));
  return (
    <g pointerEvents="none" stroke="var(--ink-cut)">
      <polyline
        points={spots.map((p) => `${p.x},${p.y}`).join(" ")}
        fill={spots.length > 2 ? "var(--ink-cut)" : "none"}
        fillOpacity={0.1}
        strokeWidth={1.8}
      />
      {spots.map((p, k) => {
        const key = `corner ${k}`;
        return <circle key={key} cx={p.x} cy={p.y} r={3} fill="var(--film)" />;
      })}
    </g>
  );
}
