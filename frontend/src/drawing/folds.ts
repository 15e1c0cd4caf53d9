import type { Spot } from "./camera";

/** A stretch of an axis that a broken drawing shows, mm on paper before it is moved, and by how much it is. */
export type FoldPart = [start: number, end: number, shift: number];
/** How the parts of a broken drawing stand on paper. */
export type Folds = { u: FoldPart[]; v: FoldPart[] };

/** Where a point of the drawing stands on paper; one that is taken out, at the nearest side of its break. */
export const folded = (folds: Folds, p: Spot): Spot => ({ x: moved(folds.u, p.x), y: moved(folds.v, p.y) });

/** The point of the drawing that stands at a place on paper; in a gap, the end of the part before it. */
export const unfolded = (folds: Folds, p: Spot): Spot => ({ x: back(folds.u, p.x), y: back(folds.v, p.y) });

function moved(parts: FoldPart[], at: number): number {
  const k = Math.max(
    0,
    parts.findLastIndex(([start]) => at >= start),
  );
  const [, end, shift] = parts[k] as FoldPart;
  const after = parts[k + 1];
  if (!after || at <= end) return at + shift;
  return at - end < after[0] - at ? end + shift : after[0] + after[2];
}

function back(parts: FoldPart[], at: number): number {
  const k = Math.max(
    0,
    parts.findLastIndex(([start, , shift]) => at >= start + shift),
  );
  const [, end, shift] = parts[k] as FoldPart;
  return k === parts.length - 1 ? at - shift : Math.min(at - shift, end);
}
