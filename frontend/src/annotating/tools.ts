import { held } from "../desk/mode";

/** Places of a drawing in mm of the building, in its axes. */
export type Place = [u: number, v: number];

/** What an annotation can be tied to: where, and which level or grid line it is, if it is one. */
export type SnapSpot = { at: Place; word: string; level?: string; grid?: string };
export type Pick = { at: Place; snap: SnapSpot | null };

/** A tool in hand: where it was clicked so far, and in which drawing. */
export type Annotate = {
  kind: "annotate";
  tool: string;
  drawing: number | null;
  picks: Pick[];
  pointer: Pick | null;
};
export const annotate = held<Annotate>("annotate", true);

export const CLEAN = { drawing: null, picks: [], pointer: null };
