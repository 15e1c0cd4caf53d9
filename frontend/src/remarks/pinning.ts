import { create } from "zustand";
import type { Spot } from "../api/remarks";
import { held } from "../desk/mode";

/** A place is being chosen for a remark, by the next click in a drawing or on a sheet. */
export type Pinning = { kind: "remark" };
export const pinning = held<Pinning>("remark", true);

type State = {
  open: boolean;
  /** Where a remark is to be that is not written yet. */
  draft: Spot | null;
  /** The remark that was clicked last. */
  chosen: number | null;
};

export const useRemarking = create<State>(() => ({ open: false, draft: null, chosen: null }));

/** Write a remark on a place that was clicked. */
export function pinAt(draft: Spot) {
  pinning.set(null);
  useRemarking.setState({ open: true, draft, chosen: null });
}

export const chooseRemark = (chosen: number) => useRemarking.setState({ open: true, chosen, draft: null });

export const closeRemarks = () => {
  pinning.set(null);
  useRemarking.setState({ open: false, draft: null, chosen: null });
};
