import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { CalloutForm, Element, Region, WallSection } from "../api/client";
import type { Live } from "../drawing/use-view";

export type Place = [x: number, y: number];
/** Where a pointer was drawn to, and by what. */
export type Snap = { at: Place; word: string };
export type Look = "left" | "right";

/** A cutting line being drawn: first end, second end, then side and depth; model metres. */
export type LineDraft =
  | { stage: "first" }
  | { stage: "second"; a: Place }
  | { stage: "depth"; a: Place; b: Place; look: Look; depth: number };

/** What the pointer is on in the cut report: a stretch of the drawing, metres along it and in height, or what stands
 * so far off the line. */
export type Pointed = { start: number; end: number; base?: number; top?: number; off?: number };

export type Measure = { drawing: number; points: Place[]; pointer?: Place };
export type Drawn = "section" | "wall section" | "elevation";
export type Clicking = "face" | "room" | "level" | "corners" | "break" | "wall" | "thing";
/** A wall section that is offered: where the wall was clicked, and which of its junctions are wanted. */
export type Offered = { at: Place; look: Look; proposal: WallSection; wanted: number[] };
/** What a region that is being drawn becomes: a detail or the like, a blank detail, or a way to another drawing. */
export type CallsTo = CalloutForm | "blank" | number;
export type Calling = {
  shape: Region["shape"];
  to: CallsTo;
  drawing?: number;
  points: Place[];
  pointer?: Place;
};
export type Picked = { drawing: number; found: Element[]; at: number; many: boolean };

type BenchState = {
  /** The drawing chosen in the lineage, by project. */
  chosen: Record<number, number | undefined>;
  choose: (project: number, drawing: number | undefined) => void;
  /** What stands beside the chosen drawing instead of its source, by project. */
  besides: Record<number, number | undefined>;
  showBeside: (project: number, drawing: number | undefined) => void;
  /** A change that is shown but not saved (yet). */
  live: ({ id: number } & Live) | null;
  setLive: (live: BenchState["live"]) => void;
  pointed: Pointed | null;
  point: (pointed: Pointed | null) => void;
  /** Elements picked in a drawing: one of those under the pointer, or all in a box. */
  picked: Picked | null;
  setPicked: (picked: Picked | null) => void;
  /** Whether what drawings hide is shown faintly. */
  ghost: boolean;
  setGhost: (ghost: boolean) => void;
  /** Points that are measured between, metres in the drawing. */
  measure: Measure | null;
  setMeasure: (measure: Measure | null) => void;
  /** What a click in a pane is waited for: a face to align the lit line to, a room whose walls are drawn, a level that
   * gets a plan. */
  clicking: Clicking | null;
  setClicking: (clicking: Clicking | null) => void;
  /** Corners of a polygon of extents being drawn, metres in the drawing. */
  corners: { drawing: number; points: Place[] } | null;
  setCorners: (corners: BenchState["corners"]) => void;
  /** A region being drawn, metres in its drawing. */
  calling: Calling | null;
  setCalling: (calling: Calling | null) => void;
  offered: Offered | null;
  setOffered: (offered: Offered | null) => void;
  /** What the line being drawn becomes. */
  drawn: Drawn;
  /** What the pointer was drawn to. */
  snap: Snap | null;
  setSnap: (snap: Snap | null) => void;
  draft: LineDraft | null;
  setDraft: (draft: LineDraft | null) => void;
  startLine: (drawn: Drawn) => void;
};

export const useBench = create<BenchState>()(
  persist(
    (set) => ({
      chosen: {},
      choose: (project, drawing) =>
        set((old) => ({
          chosen: { ...old.chosen, [project]: drawing },
          live: null,
          draft: null,
          picked: null,
          clicking: null,
          calling: null,
          offered: null,
        })),
      besides: {},
      showBeside: (project, drawing) => set((old) => ({ besides: { ...old.besides, [project]: drawing } })),
      live: null,
      setLive: (live) => set({ live }),
      picked: null,
      setPicked: (picked) => set({ picked }),
      ghost: false,
      setGhost: (ghost) => set({ ghost }),
      pointed: null,
      point: (pointed) => set({ pointed }),
      measure: null,
      setMeasure: (measure) => set({ measure }),
      clicking: null,
      setClicking: (clicking) => set({ clicking, corners: null }),
      corners: null,
      setCorners: (corners) => set({ corners }),
      offered: null,
      setOffered: (offered) => set({ offered }),
      calling: null,
      setCalling: (calling) => set({ calling }),
      drawn: "section",
      snap: null,
      setSnap: (snap) => set({ snap }),
      draft: null,
      setDraft: (draft) => set({ draft }),
      startLine: (drawn) =>
        set({ drawn, draft: { stage: "first" }, clicking: null, calling: null, offered: null, picked: null }),
    }),
    { name: "edge-slice bench", partialize: ({ chosen }) => ({ chosen }) },
  ),
);
