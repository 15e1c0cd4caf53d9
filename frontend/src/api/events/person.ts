import { create } from "zustand";
import { persist } from "zustand/middleware";

/** What the person in this browser wants to be called; others in the project see it, and the history keeps it. */
export const usePerson = create<{ name: string; setName: (name: string) => void }>()(
  persist((set) => ({ name: "", setName: (name) => set({ name: name.trim().slice(0, 40) }) }), {
    name: "edge-slice person",
  }),
);

/** Which window this is, to tell it from others of the same person. */
export const windowName = crypto.randomUUID();

/** A header value takes only plain letters. */
export const personHeader = () => ({ "X-Person": encodeURIComponent(usePerson.getState().name) });
