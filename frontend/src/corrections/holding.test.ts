import { expect, it } from "vitest";
import type { FaceHandle } from "../api/client";
import { firstMet, movedOut, samePlane } from "./holding";

const face = (
  looks: [number, number, number],
  at: number,
  start: [number, number],
  end: [number, number],
): FaceHandle => ({
  face: { looks, at },
  drawn: { looks, at },
  start,
  end,
  out: [looks[0], looks[2]],
});
const TOP = face([0, 0, 1], 3, [0, 3], [1, 3]);

it("meets the first face before it, which then looks as it does itself", () => {
  const near = face([0, 0, -1], -4, [-1, 4], [2, 4]);
  const far = face([0, 0, -1], -5, [-1, 5], [2, 5]);
  expect(firstMet(TOP, [far, near])).toEqual({ looks: [0, 0, 1], at: 4 });
  expect(firstMet(TOP, [far])).toEqual({ looks: [0, 0, 1], at: 5 });
});

it("meets nothing beside it, behind it, or where it lies itself", () => {
  const beside = face([0, 0, -1], -4, [2, 4], [3, 4]);
  const behind = face([0, 0, -1], -2, [-1, 2], [2, 2]);
  const itself = face([0, 0, -1], -3, [-1, 3], [2, 3]);
  const along = face([1, 0, 0], 0.5, [0.5, 3.5], [0.5, 9]);
  expect(firstMet(TOP, [beside, behind, itself, along])).toBeNull();
});

it("tells planes apart by a millimetre", () => {
  expect(movedOut(TOP, 0.5)).toEqual({ looks: [0, 0, 1], at: 3.5 });
  expect(samePlane(TOP.face, { looks: [0, 0, 1], at: 3.0005 })).toBe(true);
  expect(samePlane(TOP.face, { looks: [0, 0, 1], at: 3.002 })).toBe(false);
  expect(samePlane(TOP.face, { looks: [0, 0.1, 0.995], at: 3 })).toBe(false);
});
