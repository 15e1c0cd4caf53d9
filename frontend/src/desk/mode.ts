import { create } from "zustand";

export type Place = [x: number, y: number];
/** Where a pointer was drawn to, and by what. */
export type Snap = { at: Place; word: string };

/** What is in hand, with all that it holds so far; of one kind at a time. */
export type Held = { kind: string };
const LOOK: Held = { kind: "look" };

type ModeState = {
  mode: Held;
  /** What the pointer was drawn to. */
  snap: Snap | null;
  setSnap: (snap: Snap | null) => void;
};

/** The one mode of the window: nothing in hand, or one tool. */
export const useMode = create<ModeState>((set) => ({
  mode: LOOK,
  snap: null,
  setSnap: (snap) => set({ snap }),
}));

const STAYING = new Set<string>();

/** Another drawing is chosen: what was being done to the one before is left. */
export const leaveDrawing = () => {
  if (!STAYING.has(useMode.getState().mode.kind)) useMode.setState({ mode: LOOK, snap: null });
};

/** Whether what is in hand goes on in a drawing: it began there, or nowhere yet. */
export const goesOnIn = (mode: { drawing: number | null }, drawing: { id: number } | undefined): boolean =>
  drawing !== undefined && (mode.drawing === null || mode.drawing === drawing.id);

export type Handle<M extends Held> = {
  kind: M["kind"];
  /** What it holds, as state of a component; null while it isn't in hand. */
  useHeld: () => M | null;
  now: () => M | null;
  /** Take it in hand, or change what it holds; null lets go of it. */
  set: (mode: Omit<M, "kind"> | null) => void;
};

/** A kind of mode. `stays`: it is kept when another drawing is chosen. */
export function held<M extends Held>(kind: M["kind"], stays = false): Handle<M> {
  if (stays) STAYING.add(kind);
  const mine = (mode: Held) => (mode.kind === kind ? (mode as M) : null);
  return {
    kind,
    useHeld: () => useMode((s) => mine(s.mode)),
    now: () => mine(useMode.getState().mode),
    set: (mode) => {
      const was = mine(useMode.getState().mode);
      if (mode) useMode.setState({ mode: { ...mode, kind }, ...(!was && { snap: null }) });
      else if (was) useMode.setState({ mode: LOOK, snap: null });
    },
  };
}
