import { toast } from "sonner";
import type { Extents } from "../../api/client";
import { goesOnIn, held, type Place } from "../../desk/mode";
import { type Camera, toScreen } from "../../drawing/camera";
import type { View } from "../../drawing/screen-form";
import { OPEN_EXTENTS, onModel, rounded, withExtents } from "../cutting/plan-geometry";
import { says } from "../modes/says";
import { type Pane, tool } from "../modes/tool";

const NEAR = 10; // pixels about an edge in which a click is meant for it
const LEAST = 0.01; // metres
type Edge = Extents["broken"][number];

/** Where what is taken out begins, metres in its drawing. */
export type Breaking = { kind: "break"; drawing: number | null; first: Place | null };
export const breaking = held<Breaking>("break");
export const startBreak = () => breaking.set({ drawing: null, first: null });

function save(pane: Pane, change: Partial<Extents>) {
  breaking.set(null);
  pane.save({ cut: withExtents(pane.spec.cut, change) });
}

/** Clicks that break a drawing: one on an edge sets or takes off its break line; two elsewhere take out what lies
 * between them, along the axis in which they lie further apart. */
export const breakTool = tool({
  held: breaking,
  works: ({ drawing, croppable, view }, mode) => croppable && view !== null && goesOnIn(mode, drawing),
  click: ({ paper, zoom }, pane, { first }) => {
    const extents = { ...OPEN_EXTENTS, ...pane.spec.cut.extents };
    const edge = first || !pane.view ? undefined : edgeAt(pane.view, paper, zoom);
    if (edge) {
      const on = extents.broken.includes(edge);
      save(pane, { broken: on ? extents.broken.filter((e) => e !== edge) : [...extents.broken, edge] });
      return;
    }
    const at = rounded(onModel(paper, pane.scale));
    if (!first) {
      breaking.set({ drawing: pane.drawing?.id ?? null, first: at });
      return;
    }
    const k = Math.abs(at[0] - first[0]) >= Math.abs(at[1] - first[1]) ? 0 : 1;
    const [start, end] = [Math.min(first[k], at[k]), Math.max(first[k], at[k])];
    if (end - start < LEAST) toast("There is nothing between these points to take out.");
    else save(pane, { breaks: [...extents.breaks, { axis: k === 0 ? "u" : "v", start, end }] });
  },
  back: () => null,
  Foot: says("Click on an edge, or at both ends of the part that is taken out. Esc leaves."),
});

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
