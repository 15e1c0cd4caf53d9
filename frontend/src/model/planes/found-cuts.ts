import type { Drawing, DrawingPlanes } from "../../api/client";
import { findable } from "../../fields/findable";

export const MANY = 24; // planes that are told apart in the model at once

/** Cuts in the order of their drawings, by words of their letters and titles. */
export function foundCuts(planes: DrawingPlanes[], drawings: Drawing[], words: string): DrawingPlanes[] {
  const order = new Map(drawings.map((d, k) => [d.id, k]));
  const wanted = findable(words.trim());
  return planes
    .filter((p) => findable(`${p.letter} ${p.title}`).includes(wanted))
    .sort((a, b) => (order.get(a.drawing) ?? 0) - (order.get(b.drawing) ?? 0));
}

/** Of all planes those that stand in the model: of the first found cuts, and of those that are used or pointed at. */
export function standingPlanes(
  planes: DrawingPlanes[],
  found: DrawingPlanes[],
  used: ReadonlySet<number>,
): DrawingPlanes[] {
  const first = new Set(found.slice(0, MANY).map((p) => p.drawing));
  return planes.filter((p) => first.has(p.drawing) || used.has(p.drawing));
}
