import { create } from "zustand";
import { type Camera, type Spot, turnedBy } from "./camera";

/** How a pane lies on the axis that aligned panes share: "x" across both, "y" up both. `zero` is where the axis begins,
 * mm on its (turned) paper; `scale` makes millimetres of the building of millimetres of paper. The pane that `leads`
 * says what is in view at first. */
export type SharedAxis = {
  pair: string;
  axis: "x" | "y";
  zero: number;
  scale: number;
  turn: number;
  leads: boolean;
  /** Where across the axis a pane begins to look, mm on its turned paper; else at the middle of the drawing. */
  middle?: number;
};

export type Hair = { along: number; across: number; pane: string };

type Aligned = {
  pair: string;
  /** Millimetres of the building at the left or upper edge of the panes, and pixels for each. */
  start: number;
  density: number;
  /** Where the pointer is, mm of the building: on the shared axis and across it, and in which pane. */
  hair: Hair | null;
  look: (pair: string, start: number, density: number) => void;
  point: (hair: Hair | null) => void;
};

export const useAligned = create<Aligned>((set) => ({
  pair: "",
  start: 0,
  density: 1,
  hair: null,
  look: (pair, start, density) => set({ pair, start, density }),
  point: (hair) => set({ hair }),
}));

/** The camera of a pane on the shared axis; across it the pane keeps `own`, the paper at the middle of its `size`. */
export function sharedCamera(
  { axis, zero, scale, turn }: SharedAxis,
  { start, density }: { start: number; density: number },
  own: number,
  size: number,
): Camera {
  const zoom = density * scale;
  return axis === "x"
    ? { zoom, turn, left: zero + start / scale, top: own + size / 2 / zoom }
    : { zoom, turn, top: zero + start / scale, left: own - size / 2 / zoom };
}

/** What a camera says of the shared axis, and of the pane's own. */
export function readCamera({ axis, zero, scale }: SharedAxis, camera: Camera, size: number) {
  const first = axis === "x" ? camera.left : camera.top;
  const own = axis === "x" ? camera.top - size / 2 / camera.zoom : camera.left + size / 2 / camera.zoom;
  return { start: (first - zero) * scale, density: camera.zoom / scale, own };
}

/** Place of a paper point on the shared axis and across it, mm of the building. */
export function onAxis(
  { axis, zero, scale, turn }: SharedAxis,
  paper: Spot,
): [along: number, across: number] {
  const p = turnedBy(turn, paper);
  const [along, across] = axis === "x" ? [p.x, p.y] : [p.y, p.x];
  return [(along - zero) * scale, across * scale];
}
