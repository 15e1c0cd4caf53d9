import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { Element } from "../api/client";
import type { Live } from "../drawing/use-view";
import { leaveDrawing } from "./mode";

export type Look = "left" | "right";

/** What the pointer is on in the cut report: a stretch of the drawing, metres along it and in height, or what stands
 * so far off the line. */
export type Pointed = { start: number; end: number; base?: number; top?: number; off?: number };

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
  /** Whether the starter set is shown. */
  starting: boolean;
  setStarting: (starting: boolean) => void;
};

export const useBench = create<BenchState>()(
  persist(
    (set) => ({
      chosen: {},
      choose: (project, drawing) => {
        leaveDrawing();
        set((old) => ({ chosen: { ...old.chosen, [project]: drawing }, live: null, picked: null }));
      },
      besides: {},
      showBeside: (project, drawing) => set((old) => ({ besides: { ...old.besides, [project]: drawing } })),
      live: null,
      setLive: (live) => set({ live }),
      picked: null,
      setPicked: (picked) => set({ picked }),
      ghost: false,
      setGhost: (ghost) => set({ ghost }),
      starting: false,
      setStarting: (starting) => set({ starting }),
      pointed: null,
      point: (pointed) => set({ pointed }),
    }),
    { name: "edge-slice bench", partialize: ({ chosen }) => ({ chosen }) },
  ),
);
