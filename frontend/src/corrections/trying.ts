import { useEffect } from "react";
import { create } from "zustand";
import type { Correction } from "../api/client";
import { triedView } from "../api/corrections";
import type { View } from "../drawing/screen-form";

const PAUSE = 200; // ms after which what was typed is tried

/** A saved drawing in one state of its project. */
type Drawn = { id: number; view: string };

type Trying = {
  /** Corrections that drawings show while somebody types them, before they are kept; null: none. */
  corrections: Correction[] | null;
  /** A drawing while a face of it is dragged, and of which state that is, until it is drawn anew. */
  inHand: { of: Drawn; view: View } | null;
};

export const useTrying = create<Trying>(() => ({ corrections: null, inHand: null }));

/** Show in all drawings what a form says, until it says something else, or is gone; null: nothing. */
export function useTryOut(corrections: Correction[] | null) {
  const said = JSON.stringify(corrections);
  useEffect(() => {
    const timer = setTimeout(() => useTrying.setState({ corrections: JSON.parse(said) }), PAUSE);
    return () => clearTimeout(timer);
  }, [said]);
  useEffect(() => () => useTrying.setState({ corrections: null }), []);
}

type Move = { of: Drawn; corrections: Correction[] };
let wanted: Move | null = null;
let underWay = false;

/** Show a drawing as it is while a face is dragged: one after the other, the newest one next. */
export async function showInHand(move: Move) {
  wanted = move;
  if (underWay) return;
  underWay = true;
  while (wanted) {
    const next: Move = wanted;
    wanted = null;
    const view = await triedView(next.of.id, next.corrections, true).catch(() => null); // the edge is dragged on
    if (view) useTrying.setState({ inHand: { of: next.of, view } });
  }
  underWay = false;
}

/** Show nothing in hand any more; what is under way is not shown. */
export function letGoOfHand() {
  wanted = null;
  useTrying.setState({ inHand: null });
}
