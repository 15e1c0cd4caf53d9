import { describe, expect, it } from "vitest";
import { apart, boundsOf, grown, nearest, together, type XY } from "./place-picture";

const square = (x: number, y: number, s = 1): XY[] => [
  [x, y],
  [x + s, y],
  [x + s, y + s],
  [x, y + s],
];

describe("the picture of a part's place", () => {
  it("shows all of both, in the proportion of its window", () => {
    const box = grown(together([boundsOf(square(0, 0)), boundsOf(square(9, 1))]), 1.6);
    expect((box[2] - box[0]) / (box[3] - box[1])).toBeCloseTo(1.6);
    expect(box[0]).toBeLessThan(0);
    expect(box[2]).toBeGreaterThan(10);
    expect(box[1]).toBeLessThan(0);
    expect(box[3]).toBeGreaterThan(2);
  });
  it("catches the nearest corner within reach, and else takes the point as it is", () => {
    const rings = [square(0, 0), square(3, 0)];
    expect(nearest(rings, [2.9, 0.1], 0.5)).toEqual([3, 0]);
    expect(nearest(rings, [2, 5], 0.5)).toEqual([2, 5]);
  });
  it("tells when one picture can't show both", () => {
    expect(apart([square(0, 0)], [square(5, 0)])).toBe(false);
    expect(apart([square(0, 0)], [square(400_000, 0)])).toBe(true);
    expect(apart([square(0, 0)], [])).toBe(false);
  });
});
