import { expect, test, vi } from "vitest";
import type { Doing } from "../src/annotating/kinds/kind";
import { hintFor, isComplete, KINDS, kindOf, pointsOf } from "../src/annotating/kinds/kinds";
import type { Options } from "../src/annotating/state";
import { directionOf, spotOf, straight } from "../src/annotating/steps";
import type { Pick, Place } from "../src/annotating/tools";

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
  for (const kind of KINDS) {
    expect(kind.next.length).toBeGreaterThan(0);
    expect(hintFor(kind, 0)).toMatch(/Esc leaves\.$/);
    expect(hintFor(kind, 9)).toMatch(/Esc steps back\.$/);
  }
});

test("each tool has its own key, and one way of being used", () => {
  expect(new Set(KINDS.map((k) => k.keys)).size).toBe(KINDS.length);
  expect(new Set(KINDS.map((k) => k.tool)).size).toBe(KINDS.length);
  for (const { refers, drawn, touches } of KINDS)
    expect([refers, drawn, touches].filter(Boolean)).toHaveLength(1);
});

test.each([
  ["area", "rectangle", 2, true],
  ["area", "polyline", 3, false],
  ["line", "arc", 3, true],
  ["line", "polyline", 2, false],
  ["mask", "rectangle", 3, false],
] as const)("%s, %s: after %i points it is complete: %s", (tool, form, points, complete) => {
  const kind = kindOf(tool);
  const wanted = kind && pointsOf(kind, { form } as Options);
  expect(wanted?.least).toBe(points);
  expect(wanted && isComplete(wanted, points)).toBe(complete);
});

test("a chain is clicked, placed and sent as one document", () => {
  const add = vi.fn();
  const doing = { reach: 40, options: { way: "by itself" }, add } as unknown as Doing;
  const refs = REFS.map((at) => ({ at, snap: { at, word: "corner" } }));
  kindOf("running")?.refers?.finish(doing, refs, [2000, 900]);
  const [spots, document] = add.mock.calls[0] ?? [];
  expect(spots.map((s: { at: Place }) => s.at)).toEqual(REFS);
  expect(document).toEqual({ kind: "dimension", form: "running", points: [[2000, 900]], direction: 0 });
});

test("a line is cut back between two clicks: nothing happens at the first", () => {
  const [touch, wait] = [vi.fn(), vi.fn()];
  const doing = { reach: 5, touch, wait } as unknown as Doing;
  const [a, b] = [0, 7].map((u) => ({ at: [u, 1] as Place, snap: null }));
  kindOf("cut back")?.touches?.(doing, [a] as Pick[], false);
  expect([touch.mock.calls, wait.mock.calls]).toEqual([[], [[[a]]]]);
  kindOf("cut back")?.touches?.(doing, [a, b] as Pick[], false);
  expect(touch).toHaveBeenCalledWith({ act: "cut back", at: [0, 1], to: [7, 1], reach: 5 });
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
