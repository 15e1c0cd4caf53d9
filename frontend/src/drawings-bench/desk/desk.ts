import { create } from "zustand";
import { persist } from "zustand/middleware";

export type Fold = "lineage" | "particulars" | "shelf";

/** How the bench is arranged; kept in the browser. */
type Desk = {
  panes: 1 | 2;
  way: "beside" | "stacked";
  swapped: boolean;
  aligned: boolean;
  /** The building in three dimensions as a third pane. */
  model: boolean;
  folded: Record<Fold, boolean>;
  set: (change: Partial<Pick<Desk, "panes" | "way" | "swapped" | "aligned" | "model">>) => void;
  fold: (part: Fold) => void;
};

export const useDesk = create<Desk>()(
  persist(
    (set) => ({
      panes: 2,
      way: "beside",
      swapped: false,
      aligned: false,
      model: false,
      folded: { lineage: false, particulars: false, shelf: false },
      set: (change) => set(change),
      fold: (part) => set((old) => ({ folded: { ...old.folded, [part]: !old.folded[part] } })),
    }),
    { name: "edge-slice desk" },
  ),
);
