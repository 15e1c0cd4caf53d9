/** What pictures of a part's place are looked at by: bounds, and corners to catch. */

export type XY = [number, number];
export type Box = [left: number, base: number, right: number, top: number];

export const boundsOf = (ring: readonly XY[]): Box => [
  Math.min(...ring.map(([x]) => x)),
  Math.min(...ring.map(([, y]) => y)),
  Math.max(...ring.map(([x]) => x)),
  Math.max(...ring.map(([, y]) => y)),
];

export function together(boxes: readonly Box[]): Box {
  if (boxes.length === 0) return [0, 0, 1, 1];
  return boxes.reduce((a, b) => [
    Math.min(a[0], b[0]),
    Math.min(a[1], b[1]),
    Math.max(a[2], b[2]),
    Math.max(a[3], b[3]),
  ]);
}

/** A box with air around it, in the proportion of a window. */
export function grown([left, base, right, top]: Box, proportion: number): Box {
  const wide = Math.max((right - left) * 1.12, (top - base) * 1.12 * proportion, 0.5);
  const [x, y] = [(left + right) / 2, (base + top) / 2];
  return [x - wide / 2, y - wide / proportion / 2, x + wide / 2, y + wide / proportion / 2];
}

/** The corner nearest to a point, within a reach; else the point. */
export function nearest(rings: readonly XY[][], at: XY, reach: number): XY {
  let [found, best]: [XY, number] = [at, reach];
  for (const ring of rings)
    for (const corner of ring) {
      const away = Math.hypot(corner[0] - at[0], corner[1] - at[1]);
      if (away < best) [found, best] = [corner, away];
    }
  return found;
}

/** Whether two groups of rings lie so far from each other that one picture can't show both. */
export function apart(one: readonly XY[][], other: readonly XY[][]): boolean {
  if (one.length === 0 || other.length === 0) return false;
  const [a, b] = [together(one.map(boundsOf)), together(other.map(boundsOf))];
  const whole = together([a, b]);
  const size = (box: Box) => Math.max(box[2] - box[0], box[3] - box[1]);
  return size(whole) > 8 * Math.max(size(a), size(b));
}
