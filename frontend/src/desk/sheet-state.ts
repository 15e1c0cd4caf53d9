import type { ComponentType } from "react";
import { create } from "zustand";
import type { DesignDocument, Drawing, Project, Settings, Sheet, SheetDesign } from "../api/client";
import type { Camera } from "../drawing/camera";

/** A design that is being changed on a sheet: as it is now, and which part or area is chosen. */
export type Designing = { design: SheetDesign; document: DesignDocument; chosen: string };

/** A drawing that is worked on where it stands, and what the sheet looked at when that began. */
export type Working = { placement: number; camera: Camera };
export type WorkedOn = {
  project: Project;
  settings: Settings;
  sheet: Sheet;
  working: Working;
  drawings: Drawing[];
  sheets: Sheet[];
};
/** What the sheets bench is given to work on drawings with: the pane that lies over the sheet, and its particulars. */
export type WorkInPlace = {
  Pane: ComponentType<Omit<WorkedOn, "sheets">>;
  Particulars: ComponentType<WorkedOn>;
};

type SheetState = {
  /** The placements that are chosen on the sheet. */
  chosen: number[];
  choose: (chosen: number[]) => void;
  working: Working | null;
  setWorking: (working: Working | null) => void;
  designing: Designing | null;
  setDesigning: (designing: Designing | null) => void;
};

export const useSheetState = create<SheetState>((set) => ({
  chosen: [],
  choose: (chosen) => set({ chosen }),
  working: null,
  setWorking: (working) => set({ working }),
  designing: null,
  setDesigning: (designing) => set({ designing }),
}));
