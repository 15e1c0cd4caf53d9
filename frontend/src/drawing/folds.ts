import type { Spot } from "./camera";

/** A stretch of an axis that a broken drawing shows, mm on paper before it is moved, and by how much it is. */
export type FoldPart = [start: number, end: number, shift: number];
/** How the parts of a broken drawing stand on paper; `axes`: unit vectors along and across the strips for which a plan
 * is broken open, else those of the paper. */
type Fold = { u: FoldPart[]; v: FoldPart[]; axes?: [Pair, Pair] };
type Pair = [x: number, y: number];
/** One upon the other: the breaks of a drawing, then what it is opened for. */
export type Folds = Fold[];

/** Where a point of the drawing stands on paper; one that is taken out, at the nearest side of its break. */
export const folded = (folds: Folds, p: Spot): Spot => folds.reduce((at, fold) => within(fold, at, moved), p);

/** The point of the drawing that stands at a place on paper; in a gap, the end of the part before it. */
export const unfolded = (folds: Folds, p: Spot): Spot =>
  folds.reduceRight((at, fold) => within(fold, at, back), p);

function within({ u, v, axes }: Fold, p: Spot, move: (parts: FoldPart[], at: number) => number): Spot {
  if (!axes) return { x: move(u, p.x), y: move(v, p.y) };
  const [a, b] = axes;
  const [s, t] = [move(u, p.x * a[0] + p.y * a[1]), move(v, p.x * b[0] + p.y * b[1])];
  return { x: s * a[0] + t * b[0], y: s * a[1] + t * b[1] };
}

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
