import { create } from "zustand";
import type { Spot } from "../drawing/camera";
import type { TouchedUp } from "../drawing/screen-form";
import { annotate, CLEAN, type Pick, type Place } from "./tools";

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

export const useAnnotate = create<State>((set) => ({
  open: null,
  setOpen: (open) => set({ open }),
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

/** Take a tool in hand, or let go of the one that is. */
export const startTool = (tool: string | null) => {
  annotate.set(tool === null ? null : { tool, ...CLEAN });
  useAnnotate.setState({ editing: null, chosen: null });
};
