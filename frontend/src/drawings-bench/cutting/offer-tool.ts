import type { WallSection } from "../../api/client";
import type { Look } from "../../desk/drawings-state";
import { held, type Place } from "../../desk/mode";
import { tool } from "../modes/tool";

/** A wall section that is offered: where the wall was clicked, and which of its junctions are wanted. */
export type Offered = { kind: "offer"; at: Place; look: Look; proposal: WallSection; wanted: number[] };
export const offer = held<Offered>("offer");

/** While a section is offered, panes work as with nothing in hand, and Escape takes the offer back. */
export const offerTool = tool({
  held: offer,
  works: () => false,
  click: () => undefined,
  back: () => null,
  Foot: () => null,
});
