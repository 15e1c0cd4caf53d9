import { create } from "zustand";
import type { Spot } from "../drawing/camera";
import type { TouchedUp } from "../drawing/screen-form";

/** Places of a drawing in mm of the building, in its axes. */
export type Place = [u: number, v: number];

export const TOOLS = [
  "note",
  "layer note",
  "label",
  "dimension",
  "running",
  "angle",
  "radius",
  "slope",
  "spot level",
  "line",
  "area",
  "symbol",
  "picture",
  "hide",
  "restyle",
  "cut back",
  "mask",
  "hatch",
] as const;
export type Tool = (typeof TOOLS)[number];
export type Touching = "hide" | "restyle" | "cut back" | "mask" | "hatch";

/** What an annotation can be tied to: where, and which level or grid line it is, if it is one. */
export type SnapSpot = { at: Place; word: string; level?: string; grid?: string };
export type Pick = { at: Place; snap: SnapSpot | null };

export type Options = {
  way: "by itself" | "across" | "up" | "aligned";
  form: "polyline" | "rectangle" | "arc" | "spline" | "cloud";
  lineType: string;
  hatch: string;
  masks: boolean;
  symbol: string;
  slope: "percent" | "ratio" | "degrees";
  ink: string;
  width: number;
  picture: { name: string; share: number } | null;
};

/** Words being typed where they stand: of an annotation that is there, or of a note that will be. */
export type Editing = { drawing: number; id: number | null; text: string; at: Place; tips: Pick[] };
/** What is moved while it is dragged: some annotations, as long as they are of these versions, by so much on paper; or
 * one grip of one. */
export type Dragged = { versions: Record<number, number>; by: Spot } | { id: number; grip: string; to: Spot };

type State = {
  /** The drawing in whose pane the tools stand open. */
  open: number | null;
  setOpen: (open: number | null) => void;
  tool: Tool | null;
  start: (tool: Tool | null) => void;
  /** Where the tool was clicked so far, and in which drawing. */
  drawing: number | null;
  picks: Pick[];
  pointer: Pick | null;
  set: (part: Partial<Pick_>) => void;
  options: Options;
  setOptions: (part: Partial<Options>) => void;
  chosen: { drawing: number; ids: number[] } | null;
  choose: (chosen: State["chosen"]) => void;
  editing: Editing | null;
  setEditing: (editing: Editing | null) => void;
  dragged: Dragged | null;
  setDragged: (dragged: Dragged | null) => void;
  /** Whether what touch-ups took away is shown faintly. */
  ghosts: boolean;
  /** What touch-ups did in the drawings that are shown, by drawing. */
  told: Record<number, TouchedUp[]>;
  tell: (drawing: number, touched: TouchedUp[]) => void;
  setGhosts: (ghosts: boolean) => void;
};
type Pick_ = { drawing: number | null; picks: Pick[]; pointer: Pick | null };

const NOTHING: Pick_ = { drawing: null, picks: [], pointer: null };

export const useAnnotate = create<State>((set) => ({
  open: null,
  setOpen: (open) => set({ open }),
  tool: null,
  start: (tool) => set({ tool, ...NOTHING, editing: null, chosen: null }),
  ...NOTHING,
  set: (part) => set(part),
  options: {
    way: "by itself",
    form: "polyline",
    lineType: "continuous",
    hatch: "none",
    masks: false,
    symbol: "break",
    slope: "percent",
    ink: "#8a8f8b",
    width: 0.13,
    picture: null,
  },
  setOptions: (part) => set((old) => ({ options: { ...old.options, ...part } })),
  chosen: null,
  choose: (chosen) => set({ chosen: chosen && chosen.ids.length > 0 ? chosen : null }),
  editing: null,
  setEditing: (editing) => set({ editing }),
  dragged: null,
  setDragged: (dragged) => set({ dragged }),
  ghosts: false,
  told: {},
  tell: (drawing, touched) => set((old) => ({ told: { ...old.told, [drawing]: touched } })),
  setGhosts: (ghosts) => set({ ghosts }),
}));
