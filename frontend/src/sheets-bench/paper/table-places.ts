import type { Sheet, Trim } from "../../api/client";
import type { Frame } from "../../drawing/screen-form";

export type TablePlace = NonNullable<Sheet["fields"]["tables"]>[number];
export const USUAL = { wide: 180, high: 160 }; // mm
const LEAST = 20; // mm that a place is wide and high
const STEP = 10; // mm, by which a free place is looked for
const APART = 5; // mm between a table and what stands there

/** The place of a table as a box, mm on the sheet. */
export const boxOf = ({ x, y, wide = USUAL.wide, high = USUAL.high }: TablePlace): Frame => [
  x,
  y,
  x + wide,
  y + high,
];

const tidy = (value: number) => Math.round(value * 10) / 10;

/** A place with one of its sides moved by so many mm, no further than its other one allows. */
export function sized(place: TablePlace, side: keyof Trim, by: { x: number; y: number }): TablePlace {
  const [left, base, right, top] = boxOf(place);
  const box = {
    left: side === "left" ? Math.min(left + by.x, right - LEAST) : left,
    base: side === "base" ? Math.min(base + by.y, top - LEAST) : base,
    right: side === "right" ? Math.max(right + by.x, left + LEAST) : right,
    top: side === "top" ? Math.max(top + by.y, base + LEAST) : top,
  };
  const [x, y] = [tidy(box.left), tidy(box.base)];
  return { ...place, x, y, wide: tidy(box.right - x), high: tidy(box.top - y) };
}

export const moved = (place: TablePlace, by: { x: number; y: number }): TablePlace => ({
  ...place,
  x: tidy(place.x + by.x),
  y: tidy(place.y + by.y),
});

/** The first free place for a table, from the upper left of the drawing areas on; their corner where none is. */
export function freePlace(sheet: Sheet): { x: number; y: number; wide: number; high: number } {
  const taken = [...sheet.placements.map((p) => p.box), ...(sheet.fields.tables ?? []).map(boxOf)];
  const areas = sheet.areas.length
    ? sheet.areas.map(({ box: [l, b, r, t] }) => [l + APART, b + APART, r - APART, t - APART])
    : [[20, 20, sheet.width - 20, sheet.height - 20]];
  for (const [left = 0, base = 0, right = 0, top = 0] of areas) {
    const [wide, high] = [Math.min(USUAL.wide, right - left), Math.min(USUAL.high, top - base)];
    for (let y = top - high; y >= base; y -= STEP)
      for (let x = left; x + wide <= right; x += STEP)
        if (
          !taken.some(
            ([l, b, r, t]) => l < x + wide + APART && x < r + APART && b < y + high + APART && y < t + APART,
          )
        )
          return { x: tidy(x), y: tidy(y), wide: tidy(wide), high: tidy(high) };
  }
  const [left = 0, , , top = 0] = areas[0] as readonly number[];
  return { x: tidy(left), y: tidy(top - USUAL.high), ...USUAL };
}
