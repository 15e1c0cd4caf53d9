import { expect, it } from "vitest";
import { taken } from "./chosen";

const NAMES = ["a", "b", "c", "d"];

it("takes and leaves one by one, and all between with Shift", () => {
  expect(taken(NAMES, [], "b", null)).toEqual(["b"]);
  expect(taken(NAMES, ["b"], "b", null)).toEqual([]);
  expect(taken(NAMES, ["b"], "d", "b")).toEqual(["b", "c", "d"]);
  expect(taken(NAMES, ["d"], "a", "c")).toEqual(["d", "a", "b", "c"]);
  expect(taken(NAMES, ["a"], "c", "gone")).toEqual(["a", "c"]);
});
