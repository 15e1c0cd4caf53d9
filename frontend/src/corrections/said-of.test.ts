import { expect, it } from "vitest";
import type { Correction } from "../api/client";
import { saidOf } from "./said-of";

const SAID = { author: "", reason: "", topic: "", asked: "", answer: null };
const OUT: Correction = { ...SAID, elements: ["a", "b"], left_out: true };
const STEPS: Correction = {
  ...SAID,
  element: "s",
  risers: 9,
  going: 0.3,
  rise: null,
  other_way: false,
  had: null,
};
const OUTER: Correction = {
  ...SAID,
  element: "",
  build_up: "Outer",
  layers: [],
  stays: "first",
  instead_of: [],
};

it("is another text where something else is said of the same, and the same for what is said of others", () => {
  const before = saidOf([OUT], ["a"]);
  expect(saidOf([OUT, STEPS, OUTER], ["a"])).toBe(before);
  expect(saidOf([STEPS], ["a"])).not.toBe(before);
  expect(saidOf([OUT, STEPS], ["s"])).toBe(saidOf([STEPS], ["s"]));
  expect(saidOf([OUT, OUTER], ["w"], "Outer")).not.toBe(saidOf([OUT, OUTER], ["w"], "Inner"));
});
