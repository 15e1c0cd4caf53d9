import type { Options } from "../state";
import { DIMENSION_SETTINGS, DIMENSIONS } from "./dimensions";
import type { Kind, Points, SettingsOf } from "./kind";
import { LINEWORK, LINEWORK_SETTINGS } from "./linework";
import { NOTE_SETTINGS, NOTES } from "./notes";
import { TOUCH_UPS } from "./touch-ups";

/** All tools that annotate and touch up, in the order of their bar. */
export const KINDS: readonly Kind[] = [...NOTES, ...DIMENSIONS, ...LINEWORK, ...TOUCH_UPS];
export const SETTINGS: SettingsOf = { ...NOTE_SETTINGS, ...DIMENSION_SETTINGS, ...LINEWORK_SETTINGS };

export const kindOf = (tool: string | undefined): Kind | undefined => KINDS.find((k) => k.tool === tool);

export function hintFor({ next }: Kind, picks: number): string {
  return `${next[Math.min(picks, next.length - 1)]} Esc ${picks > 0 ? "steps back" : "leaves"}.`;
}

/** Whether what is drawn through so many points is complete. */
export const isComplete = ({ least, exactly }: Points, points: number): boolean =>
  exactly === true && points === least;

/** How many points a kind is drawn through; none where it isn't. */
export const pointsOf = (kind: Kind, options: Options): Points | undefined => kind.drawn?.points(options);
