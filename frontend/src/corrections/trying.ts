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
  /** What is dragged by a face in a drawing, alone, and the drawing without it, once that is known; until the drawing
   * is drawn anew. */
  inHand: { of: Drawn; view: View; around: View | null } | null;
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

type Held = {
  of: Drawn;
  element: string;
  /** The drawing without the element. */
  without: () => Promise<View>;
};
type Move = Held & { corrections: Correction[] };
let wanted: Move | null = null;
let underWay = false;
let around: { key: string; view: View | null } = { key: "", view: null };

/** Show what is dragged by a face: one state after the other, the newest one next. */
export async function showInHand(move: Move) {
  wanted = move;
  surround(move);
  if (underWay) return;
  underWay = true;
  while (wanted) {
    const { of, corrections }: Move = wanted;
    wanted = null;
    const view = await triedView(of.id, corrections, true).catch(() => null); // the edge is dragged on
    if (view) useTrying.setState({ inHand: { of, view, around: around.view } });
  }
  underWay = false;
}

/** Ask once for the drawing without what is dragged, or will be; until it is there, that stands in it as it was, too. */
export function surround({ of, element, without }: Held) {
  const key = `${of.id} ${of.view} ${element}`;
  if (around.key === key) return;
  const mine = { key, view: null as View | null };
  around = mine;
  without().then(
    (view) => {
      mine.view = view;
    },
    () => undefined,
  );
}

/** Show nothing in hand any more; what is under way is not shown. */
export function letGoOfHand() {
  wanted = null;
  useTrying.setState({ inHand: null });
}
