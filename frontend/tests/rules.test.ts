import { beforeEach, expect, test } from "vitest";
import type { DrawingRule, Settings } from "../src/api/client";
import { keys, queryClient } from "../src/api/queries";
import { kindOf, ruleNow, rulesNow, settingsBy, useRules } from "../src/desk/rules";

const rule = (key: string, kind: string, cut = {}, style = {}) =>
  ({ key, rule: { name: key, kind, cut, style } }) as unknown as DrawingRule;
const RULES = [
  rule("own-1", "section", { depth: 2, height: 1.2, without: ["planting"] }, { scale: 20 }),
  rule("own-2", "section", { depth: null }),
  rule("own-3", "plan", { depth: 2, height: 1.5 }),
];
const settings = {
  new_style: { scale: 50, levels: true },
  new_section: { kind: "section", depth: 5, without: [] },
  new_plan: { kind: "plan", height: 1.2 },
} as unknown as Settings;

beforeEach(() => {
  queryClient.setQueryData(keys.drawingRules(1), RULES);
  useRules.setState({ picked: {} });
});

test("the first rule of a kind is used until another one, or none, is picked", () => {
  expect(ruleNow(1, "section")?.key).toBe("own-1");
  expect(ruleNow(1, "elevation")).toBeUndefined();
  expect(rulesNow(1)).toEqual(["own-1", "own-3"]);
  useRules.getState().pick(1, "section", "own-2");
  expect(ruleNow(1, "section")?.key).toBe("own-2");
  useRules.getState().pick(1, "section", "");
  expect(ruleNow(1, "section")).toBeUndefined();
  expect(rulesNow(1)).toEqual(["own-3"]);
});

test("a rule that was picked and is gone gives way to the first, and other projects have their own", () => {
  useRules.getState().pick(1, "section", "own-9");
  expect(ruleNow(1, "section")?.key).toBe("own-1");
  expect(ruleNow(2, "section")).toBeUndefined();
});

test("what is drawn begins as its rule says, and a section has no height of its own", () => {
  const by = settingsBy(ruleNow(1, "section"), settings);
  expect(by.new_section).toEqual({ kind: "section", depth: 2, without: ["planting"] });
  expect(by.new_style).toEqual({ scale: 20, levels: true });
  expect(settingsBy(ruleNow(1, "plan"), settings).new_plan).toEqual({ kind: "plan", height: 1.5, depth: 2 });
  expect(settingsBy(undefined, settings)).toBe(settings);
});

test.each([
  [{ kind: "plan", look: "up" }, "ceiling plan"],
  [{ kind: "plan" }, "plan"],
  [{ kind: "section", of: "wall" }, "wall section"],
  [{ kind: "section", perspective: { distance: 3 } }, "perspective section"],
  [{ kind: "section" }, "section"],
  [{ kind: "plane" }, "free section"],
  [{ kind: "interior elevation" }, "interior elevation"],
])("%o makes a drawing of the kind %s", (cut, kind) => {
  expect(kindOf(cut as unknown as Parameters<typeof kindOf>[0])).toBe(kind);
});
