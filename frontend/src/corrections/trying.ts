import { useEffect } from "react";
import { create } from "zustand";
import type { Correction } from "../api/client";

const PAUSE = 200; // ms after which what was typed is tried

/** Corrections that drawings show while somebody types them, before they are kept; null: none. */
export const useTrying = create<{ corrections: Correction[] | null }>(() => ({ corrections: null }));

/** Show in all drawings what a form says, until it says something else, or is gone; null: nothing. */
export function useTryOut(corrections: Correction[] | null) {
  const said = JSON.stringify(corrections);
  useEffect(() => {
    const timer = setTimeout(() => useTrying.setState({ corrections: JSON.parse(said) }), PAUSE);
    return () => clearTimeout(timer);
  }, [said]);
  useEffect(() => () => useTrying.setState({ corrections: null }), []);
}
