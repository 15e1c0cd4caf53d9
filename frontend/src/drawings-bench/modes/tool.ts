import type { ComponentType } from "react";
import type { Annotating } from "../../annotating/use-annotating";
import type { Drawing, Places, Project, Settings, Standard } from "../../api/client";
import type { LineAct } from "../../api/cut-help";
import type { DrawingChange } from "../../api/queries";
import type { Handle, Held } from "../../desk/mode";
import type { Camera, Spot } from "../../drawing/camera";
import type { PaperPointer } from "../../drawing/canvas/DrawingCanvas";
import type { View } from "../../drawing/screen-form";
import type { Spec } from "../../drawing/use-view";
import type { Snapper } from "../cutting/snaps";

/** A pane with its drawing, as tools work on it. */
export type Pane = {
  /** Where plans stand on which lines are drawn, or where what was cut stands. */
  side: "source" | "result";
  project: Project;
  settings: Settings;
  standard: Standard | undefined;
  drawings: Drawing[];
  /** The saved drawing; none while what it shows is only drawn, or offered. */
  drawing: Drawing | undefined;
  /** What is shown, which may be ahead of what is saved. */
  spec: Spec;
  scale: number;
  view: View | null;
  /** Whether its extents are changed here. */
  croppable: boolean;
  /** What lines can run through, and be drawn to. */
  places: Places | undefined;
  snapper: Snapper;
  annotating: Annotating;
  choose: (drawing: number) => void;
  save: (change: DrawingChange) => void;
  /** An act on the cutting line that is lit here. */
  act: (act: LineAct) => void;
};

export type Over = { pane: Pane; camera: Camera };

/** What a click, a move, a key and Escape mean while something is in hand. Places are mm on paper. */
export type Tool<M extends Held> = {
  held: Handle<M>;
  /** Whether it takes the pointer in this pane; other panes work as with nothing in hand. */
  works: (pane: Pane, mode: M) => boolean;
  click: (at: PaperPointer, pane: Pane, mode: M) => void;
  move?: (at: PaperPointer, pane: Pane, mode: M) => void;
  doubleClick?: (at: PaperPointer, pane: Pane, mode: M) => void;
  /** Boxes that are drawn with the pointer held; without it there are none. */
  box?: (from: Spot, to: Spot, pane: Pane, mode: M) => void;
  /** Whether a key was meant for it. */
  key?: (event: KeyboardEvent, pane: Pane, mode: M) => boolean;
  /** Escape: what is left after one step back; null lets go of it. */
  back: (mode: M) => Omit<M, "kind"> | null;
  /** Whether what it adds to is shown as it will be printed; else markers and callouts stand back while it is used. */
  plain?: boolean;
  /** The line at the foot of the pane: the next step, and what can be chosen for it. */
  Foot: ComponentType<{ pane: Pane }>;
  /** What it draws over the drawing. */
  Over?: ComponentType<Over>;
};

/** A tool with what it holds. */
export type InHand = {
  kind: string;
  works: (pane: Pane) => boolean;
  click: (at: PaperPointer, pane: Pane) => void;
  move: (at: PaperPointer, pane: Pane) => void;
  doubleClick: (at: PaperPointer, pane: Pane) => void;
  box?: (from: Spot, to: Spot, pane: Pane) => void;
  key: (event: KeyboardEvent, pane: Pane) => boolean;
  back: () => void;
  plain: boolean;
  Foot: ComponentType<{ pane: Pane }>;
  Over?: ComponentType<Over>;
};

/** How markers and callouts stand back from what is in hand. */
export const standingBack = (inHand: InHand | undefined) => ({
  passive: inHand !== undefined,
  faint: inHand?.plain === false,
});

export function tool<M extends Held>({ held, box, ...of }: Tool<M>): InHand {
  const now = <T>(act: (mode: M) => T, otherwise: T): T => {
    const mode = held.now();
    return mode ? act(mode) : otherwise;
  };
  return {
    kind: held.kind,
    works: (pane) => now((mode) => of.works(pane, mode), false),
    click: (at, pane) => now((mode) => of.click(at, pane, mode), undefined),
    move: (at, pane) => now((mode) => of.move?.(at, pane, mode), undefined),
    doubleClick: (at, pane) => now((mode) => of.doubleClick?.(at, pane, mode), undefined),
    ...(box && { box: (from, to, pane) => now((mode) => box(from, to, pane, mode), undefined) }),
    key: (event, pane) => now((mode) => of.key?.(event, pane, mode) ?? false, false),
    back: () => now((mode) => held.set(of.back(mode)), undefined),
    plain: of.plain ?? false,
    Foot: of.Foot,
    Over: of.Over,
  };
}
