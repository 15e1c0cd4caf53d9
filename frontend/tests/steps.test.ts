import { expect, test } from "vitest";
import { directionOf, hintFor, pointsOf, STEPS, spotOf, straight } from "../src/annotating/steps";
import type { Place, Tool } from "../src/annotating/tools";

const REFS: Place[] = [
  [0, 0],
  [4000, 0],
  [4000, 100],
];

test.each([
  ["a line above: across", "auto", REFS, [2000, 900], 0],
  ["a line at the right: up", "auto", REFS, [5200, 50], 90],
  [
    "references over each other: up, wherever it stands",
    "auto",
    [
      [0, 0],
      [1, 3000],
    ],
    [0, 5000],
    90,
  ],
  [
    "references beside each other: across",
    "auto",
    [
      [0, 0],
      [3000, 1],
    ],
    [9000, 0],
    0,
  ],
  [
    "along its references",
    "aligned",
    [
      [0, 0],
      [300, 300],
    ],
    [0, 0],
    45,
  ],
  ["as it was chosen", "up", REFS, [2000, 900], 90],
] as [string, Parameters<typeof directionOf>[0], Place[], Place, number][])(
  "the direction of a dimension: %s",
  (_, way, refs, line, degrees) => {
    expect(directionOf(way, refs, line)).toBeCloseTo(degrees, 9);
  },
);

test("each tool says what it waits for after each click, and how to leave", () => {
  for (const [tool, steps] of Object.entries(STEPS)) {
    expect(steps.next.length).toBeGreaterThan(0);
    expect(hintFor(tool as Tool, 0)).toMatch(/Esc leaves\.$/);
    expect(hintFor(tool as Tool, 9)).toMatch(/Esc steps back\.$/);
  }
});

test("an area between two corners is complete after two, an arc after three, a line when it is ended", () => {
  expect(pointsOf("area", "rectangle")).toBe(2);
  expect(pointsOf("line", "arc")).toBe(3);
  expect(pointsOf("line", "polyline")).toBeUndefined();
  expect(pointsOf("mask", "rectangle")).toBeUndefined();
});

test("what was snapped to is looked for nearby; a free place only in what holds it", () => {
  expect(spotOf({ at: [1, 2], snap: { at: [1, 2], word: "corner" } }, 40)).toMatchObject({
    reach: 5,
    only: [],
  });
  expect(spotOf({ at: [1, 2], snap: null }, 40)).toMatchObject({ reach: 40, only: ["inside"] });
});

test("held straight, a point lies on the nearest of eight ways", () => {
  expect(straight([0, 0], [10, 1])).toEqual([10, 0]);
  const [u, v] = straight([0, 0], [10, 9]);
  expect(u).toBeCloseTo(v, 9);
  expect(u).toBeCloseTo(9.5, 9);
});
