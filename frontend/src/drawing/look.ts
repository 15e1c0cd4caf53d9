import { create } from "zustand";
import type { Frame } from "./screen-form";

type Look = {
  /** Whether the next box that is drawn is zoomed to. */
  boxing: boolean;
  setBoxing: (boxing: boolean) => void;
  /** What the canvas of a camera shall show, mm on paper. */
  wanted: { camera: string; box: Frame } | null;
  lookAt: (camera: string, box: Frame) => void;
  done: () => void;
};

/** What the canvases are asked to look at. */
export const useLook = create<Look>((set) => ({
  boxing: false,
  setBoxing: (boxing) => set({ boxing }),
  wanted: null,
  lookAt: (camera, box) => set({ wanted: { camera, box } }),
  done: () => set({ wanted: null }),
}));
