import { create } from "zustand";

type State = {
  /** The earlier revision that drawings are laid over; null: none. */
  earlier: number | null;
  setEarlier: (earlier: number | null) => void;
};

export const useCompare = create<State>((set) => ({
  earlier: null,
  setEarlier: (earlier) => set({ earlier }),
}));
