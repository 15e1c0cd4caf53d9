import type { Opening, OpeningCorrection } from "../api/client";

/** Of an opening what people say of it, metres; `along`: by how much its middle lies to the right of where its file
 * has it. */
export type Measures = { width: number; height: number; sill: number; along: number };
export type Stays = "left" | "middle" | "right";
type Moves = { left: number; right: number; sill: number; head: number };

const NONE: Moves = { left: 0, right: 0, sill: 0, head: 0 };
const tidy = (metres: number) => Math.round(metres * 1e6) / 1e6 + 0;

const movesIn = (kept: OpeningCorrection | undefined): Moves => ({ ...NONE, ...(kept && sidesOf(kept)) });
const sidesOf = ({ left = 0, right = 0, sill = 0, head = 0 }: OpeningCorrection): Moves => ({
  left,
  right,
  sill,
  head,
});

/** An opening as its file has it, or as it is corrected. */
export function measuresOf(inFile: Opening, kept?: OpeningCorrection): Measures {
  const by = movesIn(kept);
  return {
    width: tidy(inFile.right - inFile.left + by.right - by.left),
    height: tidy(inFile.head - inFile.sill + by.head - by.sill),
    sill: tidy((inFile.above_floor ?? inFile.sill) + by.sill),
    along: tidy((by.left + by.right) / 2),
  };
}

/** By how much its sides move, so that an opening has other measures than its file, or its correction, gives it. */
export function movesOf(inFile: Opening, shall: Measures, stays: Stays, kept?: OpeningCorrection): Moves {
  const [is, by] = [measuresOf(inFile, kept), movesIn(kept)];
  const wider = shall.width - is.width;
  const share = { left: 0, middle: 0.5, right: 1 }[stays];
  const along = shall.along - is.along;
  const up = shall.sill - is.sill;
  return {
    left: tidy(by.left + along - wider * share),
    right: tidy(by.right + along + wider * (1 - share)),
    sill: tidy(by.sill + up),
    head: tidy(by.head + up + shall.height - is.height),
  };
}
