import { create } from "zustand";

/** The number by which the model is meant as its file has it, without corrections. */
export const IN_THE_FILE = 0;

type State = {
  /** The earlier revision that drawings are laid over, or the model as its file has it; null: none. */
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
