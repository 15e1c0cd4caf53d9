import { describe, expect, it } from "vitest";
import { dot, minus, type V3 } from "../opening/opening";
import { beginOf, between, paced, slid } from "./way";

const FROM = { at: [10, 0, 0] as V3, to: [0, 0, 0] as V3 };

describe("the eye on its way", () => {
  it("begins and ends where it is told", () => {
    const to = { at: [0, 0, 45] as V3, to: [0, 0, 5] as V3 };
    for (const [share, eye] of [
      [0, FROM],
      [1, to],
    ] as const)
      for (const key of ["at", "to"] as const)
        for (const k of [0, 1, 2] as const)
          expect(between(FROM, to, share)[key][k]).toBeCloseTo(eye[key][k], 9);
  });

  it("turns about what it looks at and comes nearer in even shares", () => {
    const half = between(FROM, { at: [0, 40, 0], to: [0, 0, 0] }, 0.5);
    expect(Math.hypot(...half.at)).toBeCloseTo(20, 9);
    expect(half.at[0]).toBeCloseTo(half.at[1] as number, 9);
  });

  it("goes round the building to its other side, never through it", () => {
    for (let k = 0; k <= 20; k++) {
      const { at, to } = between(FROM, { at: [-10, 0, 0], to: [0, 0, 0] }, k / 20);
      expect(Math.hypot(...minus(at, to))).toBeCloseTo(10, 6);
      expect(at[2]).toBeCloseTo(0, 9);
    }
  });
});

describe("a plane that slides open", () => {
  const plane = { point: [0, 4, 1] as V3, normal: [0, -1, 0] as V3 };
  const [low, high]: [V3, V3] = [
    [0, -2, 0],
    [9, 8, 5],
  ];

  it("begins clear of the building, and ends in its place", () => {
    const begin = beginOf(plane, null, low, high);
    const first = slid(plane, begin, 0);
    expect(dot(minus(first.point, low), plane.normal)).toBeGreaterThan(0);
    expect(slid(plane, begin, 1).point).toEqual(plane.point);
  });

  it("goes on from one that lay the same way", () => {
    expect(beginOf(plane, { point: [3, 1, 0], normal: [0, -1, 0] }, low, high)).toBe(3);
    expect(beginOf(plane, { point: [3, 1, 0], normal: [1, 0, 0] }, low, high)).toBeCloseTo(6.2);
  });

  it("comes after the eye, and both arrive", () => {
    expect(paced(0.2, true).plane).toBe(0);
    expect(paced(0.7, true).eye).toBe(1);
    expect(paced(1, true)).toEqual({ eye: 1, plane: 1 });
    expect(paced(0.5, false)).toEqual({ eye: 0.5, plane: 1 });
  });
});
