import { expect, it } from "vitest";
import { atLength, pathOf } from "./body";

it("goes a length that was typed towards the pointer", () => {
  expect(atLength([1, 1], [4, 5], 10)).toEqual([7, 9]);
  expect(atLength([1, 1], [1, 1], 2)).toEqual([3, 1]);
});

it("leads a run along what was drawn, with its fall", () => {
  const plane = { at: [10, 20, 3], x: [1, 0, 0], y: [0, 1, 0] } as const;
  const onPlan = {
    project: 1,
    drawing: 1,
    outline: [
      [0, 0],
      [4, 0],
      [4, 3],
    ] as [number, number][],
    plane: { at: [...plane.at], x: [...plane.x], y: [...plane.y] } as never,
    onPlan: true,
    along: true,
  };
  const found = pathOf(onPlan, 0.5, 2);
  expect(found.map((p) => p.map((n) => Math.round(n * 1e6) / 1e6))).toEqual([
    [10, 20, 3.5],
    [14, 20, 3.42],
    [14, 23, 3.36],
  ]);
  expect(pathOf({ ...onPlan, onPlan: false }, 0.5, 0)[0]).toEqual([10, 20, 3]);
});
