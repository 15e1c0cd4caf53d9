import { create } from "zustand";

type State = {
  /** The earlier revision that drawings are laid over; null: none. */
  earlier: number | null;
  setEarlier: (earlier: number | null) => void;
  /** Whether the earlier drawing is shown alone, as it was. */
  alone: boolean;
  setAlone: (alone: boolean) => void;
};

export const useCompare = create<State>((set) => ({
  earlier: null,
  setEarlier: (earlier) => set({ earlier, alone: false }),
  alone: false,
  setAlone: (alone) => set({ alone }),
}));
