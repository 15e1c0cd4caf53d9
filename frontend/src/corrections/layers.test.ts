import { expect, it } from "vitest";
import { alike, changed, moved, thick } from "./layers";

const WALL = [
  { material: "Brick", thickness: 0.1, is_a: "" },
  { material: "Block", thickness: 0.14, is_a: "" },
];

it("changes, moves and adds up layers, and leaves those that it was given", () => {
  expect(thick(WALL)).toBeCloseTo(0.24);
  expect(moved(WALL, 0, 1).map((layer) => layer.material)).toEqual(["Block", "Brick"]);
  expect(moved(WALL, 0, -1)).toEqual(WALL);
  expect(changed(WALL, 1, { thickness: 0.2 })[1]).toEqual({ material: "Block", thickness: 0.2, is_a: "" });
  expect(thick(WALL)).toBeCloseTo(0.24);
});

it("tells build-ups apart by materials, thicknesses and order", () => {
  expect(alike(WALL, changed(WALL, 0, { is_a: "brick" }))).toBe(true);
  expect(alike(WALL, changed(WALL, 0, { thickness: 0.11 }))).toBe(false);
  expect(alike(WALL, moved(WALL, 0, 1))).toBe(false);
  expect(alike(WALL, WALL.slice(1))).toBe(false);
});
