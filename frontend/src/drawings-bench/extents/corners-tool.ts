import { toast } from "sonner";
import { goesOnIn, held, type Place } from "../../desk/mode";
import { closesRing, onModel, rounded, withExtents } from "../cutting/plan-geometry";
import { says } from "../modes/says";
import { type Pane, tool } from "../modes/tool";

/** Corners of a polygon of extents being drawn, metres in the drawing. */
export type Corners = { kind: "corners"; drawing: number | null; points: Place[] };
export const corners = held<Corners>("corners");
export const startCorners = () => corners.set({ drawing: null, points: [] });

function close({ spec: { cut }, save }: Pane, { points }: Corners) {
  corners.set(null);
  if (points.length < 3) toast("A polygon needs three corners or more; nothing was changed.");
  else save({ cut: withExtents(cut, { polygon: points }) });
}

export const cornersTool = tool({
  held: corners,
  works: ({ drawing, croppable }, mode) => croppable && goesOnIn(mode, drawing),
  click: ({ paper, zoom }, pane, mode) => {
    const at = rounded(onModel(paper, pane.scale));
    if (closesRing(mode.points, at, zoom, pane.scale)) close(pane, mode);
    else corners.set({ drawing: pane.drawing?.id ?? null, points: [...mode.points, at] });
  },
  key: ({ key }, pane, mode) => {
    if (key !== "Enter" || mode.points.length === 0) return false;
    close(pane, mode);
    return true;
  },
  back: () => null,
  Foot: says(
    "Click the corners of the extents; click the first one again, or press Enter, to close. Esc leaves.",
  ),
});
