import { expect, test } from "vitest";
import { type Camera, fit, toPaper, toScreen, turnedBox, zoomAt } from "../src/drawing/camera";
import { type Folds, folded, unfolded } from "../src/drawing/folds";
import { chance } from "./chance";

// 40 to 60 mm are taken out, 5 mm are left as a gap; then the paper is opened by 30 mm along a line at 3-4-5
const BROKEN: Folds = [
  {
    u: [
      [0, 40, 0],
      [60, 100, -15],
    ],
    v: [[0, 100, 0]],
  },
];
const OPENED: Folds = [
  ...BROKEN,
  {
    axes: [
      [0.8, 0.6],
      [-0.6, 0.8],
    ],
    u: [[-1e6, 1e6, 0]],
    v: [
      [-1e6, 20, 0],
      [20, 1e6, 30],
    ],
  },
];

test("what is taken out moves to the nearest side of its gap", () => {
  expect(folded(BROKEN, { x: 39, y: 7 })).toEqual({ x: 39, y: 7 });
  expect(folded(BROKEN, { x: 61, y: 7 })).toEqual({ x: 46, y: 7 });
  expect(folded(BROKEN, { x: 45, y: 7 }).x).toBe(40);
  expect(folded(BROKEN, { x: 55, y: 7 }).x).toBe(45);
  expect(unfolded(BROKEN, { x: 42, y: 7 }).x).toBe(40); // in the gap: the end of the part before it
});

test.each([
  ["broken", BROKEN],
  ["opened along a line askew", OPENED],
])("what shows comes back to where it was: %s", (_, folds) => {
  const { within, one } = chance(7);
  for (let k = 0; k < 500; k++) {
    const p = { x: one([within(0, 40), within(60, 100)]), y: within(0, 100) };
    const back = unfolded(folds, folded(folds, p));
    expect(back.x).toBeCloseTo(p.x, 9);
    expect(back.y).toBeCloseTo(p.y, 9);
  }
});

test("a plan opens by as much as its strip is high, across it", () => {
  const [below, above] = [
    { x: 0, y: 0 },
    { x: -60, y: 80 },
  ].map((p) => folded(OPENED, p));
  expect(Math.hypot((above?.x ?? 0) - (below?.x ?? 0), (above?.y ?? 0) - (below?.y ?? 0))).toBeCloseTo(
    130,
    9,
  );
});

test("the pointer is where the drawing is, however it is turned, broken and zoomed", () => {
  const { within, one } = chance(11);
  for (let k = 0; k < 300; k++) {
    const camera: Camera = {
      left: within(-50, 50),
      top: within(-50, 50),
      zoom: within(0.2, 40),
      turn: within(-3, 3),
      folds: one([undefined, BROKEN]),
    };
    const p = { x: one([within(1, 39), within(61, 99)]), y: within(1, 99) };
    const back = toPaper(camera, toScreen(camera, p));
    expect(Math.hypot(back.x - p.x, back.y - p.y)).toBeLessThan(1e-9);
  }
});

test("zooming holds the paper under the pointer, also where zoom ends", () => {
  const camera: Camera = { left: 3, top: 9, zoom: 2 };
  for (const factor of [0.001, 0.9, 1.1, 1e6]) {
    const at = { x: 120, y: 340 };
    const [before, after] = [toPaper(camera, at), toPaper(zoomAt(camera, at, factor), at)];
    expect(after.x).toBeCloseTo(before.x, 9);
    expect(after.y).toBeCloseTo(before.y, 9);
  }
});

test("a drawing fits its pane, turned too", () => {
  for (const turn of [0, 0.4, -1.3]) {
    const camera = fit([0, 0, 200, 80], 500, 300, turn);
    const corners = [
      { x: 0, y: 0 },
      { x: 200, y: 0 },
      { x: 200, y: 80 },
      { x: 0, y: 80 },
    ].map((p) => toScreen(camera, p));
    const [xs, ys] = [corners.map((p) => p.x), corners.map((p) => p.y)];
    expect(Math.min(...xs)).toBeGreaterThanOrEqual(10 - 1e-9);
    expect(Math.max(...xs)).toBeLessThanOrEqual(490 + 1e-9);
    expect(Math.min(...ys)).toBeGreaterThanOrEqual(10 - 1e-9);
    expect(Math.max(...ys)).toBeLessThanOrEqual(290 + 1e-9);
    const tight = Math.min(Math.min(...xs) - 10, Math.min(...ys) - 10);
    expect(tight).toBeCloseTo(0, 6); // one way it fills the pane
  }
  expect(turnedBox([0, 0, 2, 1], Math.PI / 2).map((x) => Math.round(x * 1e9) / 1e9 + 0)).toEqual([
    -1, 0, 0, 2,
  ]);
});
