import { create } from "zustand";
import type { At, Spot } from "../api/remarks";
import { held } from "../desk/mode";

/** A place is being chosen for a remark, by the next click in a drawing or on a sheet. */
export type Pinning = { kind: "remark" };
export const pinning = held<Pinning>("remark", true);

type State = {
  open: boolean;
  /** Where a remark is to be that is not written yet. */
  draft: Spot | null;
  /** The lines of its sketch, in the coordinates of its place; whether the pointer draws them. */
  sketch: At[][];
  sketching: boolean;
  /** The remark that was clicked last. */
  chosen: number | null;
};

const NO_DRAFT = { draft: null, sketch: [], sketching: false };
export const useRemarking = create<State>(() => ({ open: false, ...NO_DRAFT, chosen: null }));

/** Write a remark on a place that was clicked. */
export function pinAt(draft: Spot) {
  pinning.set(null);
  useRemarking.setState({ open: true, ...NO_DRAFT, draft, chosen: null });
}

export const chooseRemark = (chosen: number) => useRemarking.setState({ open: true, ...NO_DRAFT, chosen });

/** Make room for what became of a remark. */
export const makeRoom = (chosen: number) => useRemarking.setState({ open: false, ...NO_DRAFT, chosen });

export const leaveDraft = () => useRemarking.setState(NO_DRAFT);

export const closeRemarks = () => {
  pinning.set(null);
  useRemarking.setState({ open: false, ...NO_DRAFT, chosen: null });
};
