import type { LucideIcon } from "lucide-react";
import type { ComponentType } from "react";
import type { Draft } from "../../api/annotations";
import type { Annotation, Drawing, SpotIn, Standard, TouchUpNew } from "../../api/client";
import type { Options } from "../state";
import type { Pick, Place } from "../tools";

/** What a tool works with as it is clicked. `reach`: how near a click is meant for something, mm of the building. */
export type Doing = {
  drawing: Drawing;
  scale: number;
  options: Options;
  reach: number;
  /** Add an annotation that is tied to what lies at these spots. */
  add: (spots: SpotIn[], document: Draft) => void;
  /** Dimension everything that a line crosses. */
  cross: (line: [Place, Place]) => void;
  /** Have its words typed where they stand, and add it then. */
  write: (at: Place, tips: Pick[]) => void;
  touch: (wanted: Partial<TouchUpNew> & { act: TouchUpNew["act"] }) => void;
  /** Keep the clicks so far and wait for more; none ends it. */
  wait: (picks: Pick[]) => void;
};

/** Left, base, right, top, mm of the building. */
export type Box = [number, number, number, number];

/** How many points a line has: ended by Enter after `least`, or complete with `exactly` so many. */
export type Points = { least: number; exactly?: boolean };

/** A tool that annotates a drawing or touches it up, with all that menus, keys, panes and particulars ask of it. */
export type Kind = {
  tool: string;
  group: "Annotate" | "Touch up";
  glyph: LucideIcon;
  name: string;
  keys: string;
  /** What to do next, after so many clicks. */
  next: string[];
  /** It refers to `refs` places, or as many as are clicked, and stands at one that is clicked last. */
  refers?: { refs: number; many?: boolean; finish: (doing: Doing, refs: Pick[], at: Place) => void };
  /** It is drawn through points. */
  drawn?: { points: (options: Options) => Points; finish: (doing: Doing, points: Place[]) => void };
  /** It does something at each click. `alt`: that key is held. */
  touches?: (doing: Doing, picks: Pick[], alt: boolean) => void;
  /** And with all in a window. */
  window?: (doing: Doing, box: Box, whole: boolean) => void;
  /** What is chosen at the foot of the pane while it is in hand. */
  Choices?: ComponentType<{ project: number; standard: Standard | undefined }>;
};

export type SettingsProps = {
  one: Annotation;
  standard: Standard | undefined;
  save: (change: Record<string, unknown>) => unknown;
};
/** What is set of a chosen annotation, by the kind of its document. */
export type SettingsOf = Partial<Record<Annotation["document"]["kind"], ComponentType<SettingsProps>>>;

export const TIE = 30; // mm on paper within which something drawn freely is tied to a corner
