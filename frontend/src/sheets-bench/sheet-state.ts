import { create } from "zustand";
import type { DesignDocument, SheetDesign } from "../api/client";

/** A design that is being changed on a sheet: as it is now, and which part or area is chosen. */
export type Designing = { design: SheetDesign; document: DesignDocument; chosen: string };

type SheetState = {
  /** The placements that are chosen on the sheet. */
  chosen: number[];
  choose: (chosen: number[]) => void;
  designing: Designing | null;
  setDesigning: (designing: Designing | null) => void;
};

export const useSheetState = create<SheetState>((set) => ({
  chosen: [],
  choose: (chosen) => set({ chosen }),
  designing: null,
  setDesigning: (designing) => set({ designing }),
}));
