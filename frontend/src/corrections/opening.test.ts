import { expect, it } from "vitest";
import type { Opening, OpeningCorrection } from "../api/client";
import { measuresOf, movesOf } from "./opening";

const WINDOW: Opening = { looks: [0, 1, 0], left: 10, right: 11.2, sill: 5.1, head: 6.5, above_floor: 0.9 };

it("says an opening as people do", () => {
  expect(measuresOf(WINDOW)).toEqual({ width: 1.2, height: 1.4, sill: 0.9, along: 0 });
  expect(measuresOf({ ...WINDOW, above_floor: null }).sill).toBe(5.1);
});

it("moves the sides that what is said is about", () => {
  const shall = { width: 1.6, height: 1.4, sill: 0.7, along: 0.5 };
  expect(movesOf(WINDOW, shall, "middle")).toEqual({ left: 0.3, right: 0.7, sill: -0.2, head: -0.2 });
  expect(movesOf(WINDOW, shall, "left")).toEqual({ left: 0.5, right: 0.9, sill: -0.2, head: -0.2 });
  expect(movesOf(WINDOW, shall, "right")).toEqual({ left: 0.1, right: 0.5, sill: -0.2, head: -0.2 });
});

it("goes on from a correction, and comes to what it says again", () => {
  const kept: OpeningCorrection = {
    element: "e",
    looks: WINDOW.looks,
    left: -0.1,
    right: 0.3,
    sill: 0.2,
    head: 0.1,
    stood: null,
    reason: "",
    author: "",
    topic: "",
    asked: "",
    answer: null,
  };
  expect(measuresOf(WINDOW, kept)).toEqual({ width: 1.6, height: 1.3, sill: 1.1, along: 0.1 });
  expect(movesOf(WINDOW, measuresOf(WINDOW, kept), "left", kept)).toEqual({
    left: -0.1,
    right: 0.3,
    sill: 0.2,
    head: 0.1,
  });
});
