import { expect, test } from "vitest";
import type { SectionCut } from "../src/api/client";
import type { Place } from "../src/desk/mode";
import {
  alongLine,
  beside,
  clippedTo,
  closesRing,
  directions,
  distance,
  drawnLegs,
  legsOf,
  straight,
  withoutStep,
  withStep,
} from "../src/drawings-bench/cutting/plan-geometry";
import { chance } from "./chance";

const cutOf = (line: Place[], more: Partial<SectionCut> = {}) =>
  ({ kind: "section", line, look: "left", depths: [], ...more }) as SectionCut;

const STEPPED: Place[] = [
  [0, 0],
  [4, 0],
  [4, 2],
  [9, 2],
];

test("a step is no leg, but where right angles turn, and at the end", () => {
  expect(legsOf(cutOf(STEPPED)).map((leg) => leg.a)).toEqual([
    [0, 0],
    [4, 2],
  ]);
  expect(legsOf(cutOf(STEPPED, { corners: "turns" }))).toHaveLength(3);
  expect(legsOf(cutOf(STEPPED.slice(0, 3)))).toHaveLength(2);
  expect(legsOf(cutOf(STEPPED, { depths: [3, null] })).map((leg) => leg.depth)).toEqual([3, null]);
});

test("a section is drawn from the left as one looks at it", () => {
  expect(alongLine(cutOf(STEPPED), 5)).toEqual([5, 2]);
  expect(alongLine(cutOf(STEPPED), 5, 1)).toEqual([5, 3]);
  const right = cutOf(STEPPED, { look: "right" });
  expect(drawnLegs(right).map((leg) => leg.from)).toEqual([0, 5]);
  expect(alongLine(right, 1)).toEqual([8, 2]);
  expect(alongLine(right, 1, 1)).toEqual([8, 1]);
});

test("a step that is added and taken out again leaves the line as it was", () => {
  const line: Place[] = [
    [0, 0],
    [10, 0],
  ];
  const stepped = withStep(cutOf(line));
  expect(stepped.line).toEqual([
    [0, 0],
    [5, 0],
    [5, 1],
    [10, 1],
  ]);
  expect(withoutStep(stepped).line).toEqual(line);
});

test("what shows of a line lies in the window, and nothing else does", () => {
  const { within } = chance(3);
  const window = [0, 0, 10, 6];
  for (let k = 0; k < 300; k++) {
    const line: Place[] = Array.from({ length: 4 }, () => [within(-8, 18), within(-8, 14)]);
    const shown = clippedTo(window, line);
    const samples = Array.from({ length: 3000 }, (_, n): Place => {
      const [leg, t] = [Math.floor(n / 1000), (n % 1000) / 999];
      const [a, b] = [line[leg] as Place, line[leg + 1] as Place];
      return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t];
    });
    const inside = samples.filter(([x, y]) => x > 0 && x < 10 && y > 0 && y < 6);
    if (inside.length === 0) continue;
    const [first, last] = [shown[0] as Place, shown.at(-1) as Place];
    for (const [x, y] of [first, last]) {
      expect(x).toBeGreaterThanOrEqual(-1e-9);
      expect(x).toBeLessThanOrEqual(10 + 1e-9);
      expect(y).toBeGreaterThanOrEqual(-1e-9);
      expect(y).toBeLessThanOrEqual(6 + 1e-9);
    }
    expect(distance(first, inside[0] as Place)).toBeLessThan(0.05);
    expect(distance(last, inside.at(-1) as Place)).toBeLessThan(0.05);
  }
  expect(
    clippedTo(window, [
      [-5, 7],
      [15, 7],
    ]),
  ).toEqual([]);
  expect(
    clippedTo(window, [
      [-5, 3],
      [15, 3],
    ]),
  ).toEqual([
    [0, 3],
    [10, 3],
  ]);
});

test("the side that is looked at lies left of the way, or right", () => {
  const { within } = chance(5);
  for (let k = 0; k < 100; k++) {
    const line: Place[] = [
      [within(-9, 9), within(-9, 9)],
      [within(-9, 9), within(-9, 9)],
    ];
    const [a, b] = line as [Place, Place];
    const { along, look } = directions(line, k % 2 ? "left" : "right");
    expect(Math.hypot(...along)).toBeCloseTo(1, 12);
    const seen: Place = [a[0] + look[0], a[1] + look[1]];
    expect(beside(a, b, seen)).toBeCloseTo(k % 2 ? 1 : -1, 9);
  }
});

test("held to straight directions, a point keeps its distance", () => {
  const p = straight([1, 1], [4, 1.4]);
  expect(p[1]).toBeCloseTo(1, 12);
  expect(distance([1, 1], p)).toBeCloseTo(distance([1, 1], [4, 1.4]), 12);
});

test("a ring closes near its first corner, by what the pointer sees", () => {
  const ring: Place[] = [
    [0, 0],
    [5, 0],
    [5, 5],
  ];
  expect(closesRing(ring, [0.1, 0], 4, 50)).toBe(true); // 10 pixels are 2.5 mm of paper, 0.125 m
  expect(closesRing(ring, [0.2, 0], 4, 50)).toBe(false);
  expect(closesRing(ring.slice(0, 2), [0, 0], 4, 50)).toBe(false);
});
