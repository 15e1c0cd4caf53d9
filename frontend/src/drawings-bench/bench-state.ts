import { create } from "zustand";
import type { Live } from "../drawing/use-view";

export type Place = [x: number, y: number];
export type Look = "left" | "right";

/** A cutting line being drawn: first end, second end, then side and depth; model metres. */
export type LineDraft =
  | { stage: "first" }
  | { stage: "second"; a: Place }
  | { stage: "depth"; a: Place; b: Place; look: Look; depth: number };

type BenchState = {
  /** The drawing chosen in the lineage, by project. */
  chosen: Record<number, number | undefined>;
  choose: (project: number, drawing: number | undefined) => void;
  /** A change that is shown but not saved (yet). */
  live: ({ id: number } & Live) | null;
  setLive: (live: BenchState["live"]) => void;
  draft: LineDraft | null;
  setDraft: (draft: LineDraft | null) => void;
};

export const useBench = create<BenchState>((set) => ({
  chosen: {},
  choose: (project, drawing) =>
    set((old) => ({ chosen: { ...old.chosen, [project]: drawing }, live: null, draft: null })),
  live: null,
  setLive: (live) => set({ live }),
  draft: null,
  setDraft: (draft) => set({ draft }),
}));
