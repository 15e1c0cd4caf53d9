import { create } from "zustand";
import type { Hit } from "./picking";

/** What lies under the pointer; by itself, as it changes with every move. */
export const useUnderPointer = create<{ hit: Hit | null }>(() => ({ hit: null }));

export const pointAt = (hit: Hit | null) => useUnderPointer.setState({ hit });
