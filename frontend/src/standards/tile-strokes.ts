/** What can be done to the strokes of a tile; points are [right, up] from its lower left corner. */
export type Point = [number, number];
export type Strokes = Point[][];
export type Spot = { stroke: number; point: number };

/** A round step to which points snap: about a fortieth of the tile. */
export function snapStep(width: number, height: number): number {
  const wanted = Math.max(width, height) / 40;
  const ten = 10 ** Math.floor(Math.log10(wanted));
  return wanted < 2 * ten ? ten : wanted < 5 * ten ? 2 * ten : 5 * ten;
}

/** The point on the grid of `step`, in numbers without dust. */
export function snapped([x, y]: Point, step: number): Point {
  const digits = Math.max(0, Math.ceil(-Math.log10(step)) + 1);
  const one = (v: number) => Number((Math.round(v / step) * step).toFixed(digits));
  return [one(x), one(y)];
}

export function withPoint(strokes: Strokes, spot: Spot, to: Point): Strokes {
  return strokes.map((s, k) => (k === spot.stroke ? s.map((p, i) => (i === spot.point ? to : p)) : s));
}

export function withPointBefore(strokes: Strokes, spot: Spot, at: Point): Strokes {
  return strokes.map((s, k) =>
    k === spot.stroke ? [...s.slice(0, spot.point), at, ...s.slice(spot.point)] : s,
  );
}

/** Without a point; a stroke of one point goes as well. Null when nothing would be left. */
export function withoutPoint(strokes: Strokes, spot: Spot): Strokes | null {
  const left = strokes
    .map((s, k) => (k === spot.stroke ? s.filter((_, i) => i !== spot.point) : s))
    .filter((s) => s.length > 1);
  return left.length > 0 ? left : null;
}

/** Where the tile and its neighbours stand: rows are moved by `stagger` of the width in turn. */
export function neighbours(width: number, height: number, stagger: number): Point[] {
  const places: Point[] = [];
  for (const row of [-1, 0, 1])
    for (const column of [-2, -1, 0, 1, 2])
      if (row !== 0 || column !== 0)
        places.push([(column + (row === 0 ? 0 : stagger)) * width, row * height]);
  return places;
}
