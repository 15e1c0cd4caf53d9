import { expect, test } from "vitest";
import { SnapIndex } from "../src/annotating/snap-index";
import type { Places, Snaps } from "../src/api/client";
import type { Place } from "../src/desk/mode";
import type { View } from "../src/drawing/screen-form";
import { Snapper } from "../src/drawings-bench/cutting/snaps";
import { chance } from "./chance";

/** A plan at 1:50 in which one wall is cut, 4 m by 0.3 m, its corner at the origin. */
const WALL: Place[] = [
  [0, 0],
  [4, 0],
  [4, 0.3],
  [0, 0.3],
  [0, 0],
];
const view = {
  scale: 50,
  items: [
    {
      role: "cut structure",
      points: Float64Array.from(WALL.flat().map((x) => x * 20)),
      starts: Uint32Array.from([0, 5]),
    },
  ],
} as unknown as View;
const places = {
  things: [
    {
      guid: "w",
      kind: "window",
      name: "W1",
      base: 1,
      top: 2,
      outline: [
        [1, 0],
        [2, 0],
        [2, 0.3],
        [1, 0.3],
      ],
    },
    {
      guid: "r",
      kind: "room",
      name: "Hall",
      base: 0,
      top: 3,
      outline: [
        [0, 1],
        [4, 1],
        [4, 5],
        [0, 5],
      ],
    },
  ],
  grid: [{ name: "A", start: [-1, 2], end: [6, 2] }],
} as unknown as Places;
const snapper = new Snapper(view, places, [
  {
    word: "Section A",
    line: [
      [-1, 4],
      [6, 4],
    ],
  },
]);

test.each([
  ["an end before its side", [0.05, -0.03], [0, 0], "end"],
  ["the middle of a side", [2.04, 0.05], [2, 0], "mid-point"],
  ["the middle of a window, no room's", [1.52, 0.18], [1.5, 0.15], "middle of W1"],
  ["a grid line", [3, 2.05], [3, 2], "grid A"],
  ["the end of another section", [5.95, 4.02], [6, 4], "end of Section A"],
  ["along another section", [3, 4.05], [3, 4], "along Section A"],
  ["a face", [3.2, -0.06], [3.2, 0], "face"],
] as [string, Place, Place, string][])("what is drawn by: %s", (_, at, where, word) => {
  const found = snapper.find(at, 0.1);
  expect(found?.word).toBe(word);
  expect(found?.at[0]).toBeCloseTo(where[0], 9);
  expect(found?.at[1]).toBeCloseTo(where[1], 9);
});

test("nothing is near where nothing is", () => {
  expect(snapper.find([2, 3], 0.1)).toBeNull();
  expect(new Snapper(null, undefined, []).find([0, 0], 5)).toBeNull();
});

test("a line drawn from a place meets a face squarely", () => {
  const found = snapper.find([3.21, 0.02], 0.1, [3.2, 1.5]);
  expect(found).toMatchObject({ word: "square to the face" });
  expect(found?.at[0]).toBeCloseTo(3.2, 9);
});

test("a line moved beside a window goes through its middle, by the least way", () => {
  expect(
    snapper.across(
      [
        [1.4, -2],
        [1.4, 3],
      ],
      0.2,
    ),
  ).toMatchObject({ word: "through the middle of W1" });
  expect(
    snapper.across(
      [
        [1.4, -2],
        [1.4, 3],
      ],
      0.2,
    )?.by,
  ).toBeCloseTo(-0.1, 9); // its left is the other side
  expect(
    snapper.across(
      [
        [-1, 1.9],
        [5, 1.9],
      ],
      0.2,
    ),
  ).toMatchObject({ word: "on grid A" });
  expect(
    snapper.across(
      [
        [1.2, -2],
        [1.2, 3],
      ],
      0.2,
    ),
  ).toBeNull();
});

test("faces found by squares are those found one by one", () => {
  const { within } = chance(13);
  const turn = 0.7;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const ring = WALL.map(([x, y]): Place => [x * c - y * s, x * s + y * c]);
  const turnedView = {
    ...view,
    items: [{ ...view.items[0], points: Float64Array.from(ring.flat().map((x) => x * 20)) }],
  } as unknown as View;
  const one = new Snapper(turnedView, undefined, []);
  for (let k = 0; k < 400; k++) {
    const p: Place = [within(-1, 4), within(-1, 4)];
    const nearest = Math.min(...ring.slice(1).map((b, n) => away(p, ring[n] as Place, b)));
    expect(one.direction(p, 0.3) !== null).toBe(nearest <= 0.3);
  }
});

function away(p: Place, a: Place, b: Place): number {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const t = Math.min(1, Math.max(0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / (dx * dx + dy * dy)));
  return Math.hypot(p[0] - a[0] - dx * t, p[1] - a[1] - dy * t);
}

test("annotations hold corners before ends, these before sides, levels and grid lines", () => {
  const index = new SnapIndex({
    corners: [0, 0],
    vertices: [3, 0, 50, 50],
    sides: [0, 0, 100, 0],
    levels: [{ guid: "g", name: "Ground", v: 2 }],
    grid: [{ name: "B", start: [20, -50], end: [20, 50] }],
  } as unknown as Snaps);
  expect(index.near([2, 1], 5)).toEqual({ at: [0, 0], word: "corner" });
  expect(index.near([48, 49], 5)).toEqual({ at: [50, 50], word: "end" });
  expect(index.near([70, 1], 5)).toEqual({ at: [70, 0], word: "side" });
  expect(index.near([-80, 3], 5)).toMatchObject({ at: [-80, 2], level: "g" });
  expect(index.near([22, 30], 5)).toMatchObject({ at: [20, 30], grid: "B" });
  expect(index.near([-80, 30], 5)).toBeNull();
});
