import { create } from "zustand";

type Theme = "film-day" | "film-night";
const KEY = "edge-slice theme";
const stored = (): Theme => (localStorage.getItem(KEY) === "film-night" ? "film-night" : "film-day");

export const useTheme = create<{ theme: Theme; turn: () => void }>((set) => ({
  theme: stored(),
  turn: () =>
    set((old) => {
      const theme: Theme = old.theme === "film-day" ? "film-night" : "film-day";
      localStorage.setItem(KEY, theme);
      return { theme };
    }),
}));
