import { expect, test } from "vitest";
import type { Cut, Drawing } from "../src/api/client";
import { onAxis, readCamera, sharedCamera } from "../src/drawing/aligned";
import { toScreen } from "../src/drawing/camera";
import { alongLine, onPaper } from "../src/drawings-bench/cutting/plan-geometry";
import { alignedPair, type Pane } from "../src/drawings-bench/panes/align";
import { chance } from "./chance";

const pane = (id: number, cut: Partial<Cut>, scale: number): Pane => ({
  drawing: { id } as Drawing,
  cut: { depths: [], look: "left", ...cut } as Cut,
  scale,
});
const plan = pane(1, { kind: "plan" }, 100);

test("what a section cuts stands under its place on the turned plan", () => {
  const { within, one } = chance(17);
  for (let k = 0; k < 200; k++) {
    const line: [number, number][] = [
      [within(-20, 20), within(-20, 20)],
      [within(-20, 20), within(-20, 20)],
    ];
    const cut = { kind: "section", line, look: one(["left", "right"] as const) } as const;
    const section = pane(2, cut, one([20, 50, 200]));
    const pair = alignedPair(plan, section, true);
    if (!pair) throw new Error("a straight section has an axis");
    const shared = { start: within(-5000, 5000), density: within(0.001, 0.1) };
    const along = within(0, 10);
    const below = toScreen(sharedCamera(pair.result, shared, 0, 400), onPaper([along, 3], section.scale));
    const place = alongLine(section.cut as never, along);
    const above = toScreen(sharedCamera(pair.source, shared, 0, 400), onPaper(place, plan.scale));
    expect(above.x).toBeCloseTo(below.x, 6);
    expect(onAxis(pair.source, onPaper(place, plan.scale))[0]).toBeCloseTo(along * 1000, 6);
  }
});

test("a camera on the shared axis says what it was made of", () => {
  const pair = alignedPair(
    plan,
    pane(
      2,
      {
        kind: "section",
        line: [
          [0, 0],
          [3, 4],
        ],
      } as never,
      50,
    ),
    true,
  );
  if (!pair) throw new Error("no axis");
  for (const side of [pair.source, pair.result]) {
    const said = readCamera(side, sharedCamera(side, { start: 120, density: 0.02 }, 33, 400), 400);
    expect(said.start).toBeCloseTo(120, 9);
    expect(said.density).toBeCloseTo(0.02, 12);
    expect(said.own).toBeCloseTo(33, 9);
  }
});

test("upright drawings share their heights beside each other, and their line above each other", () => {
  const one = pane(
    2,
    {
      kind: "section",
      line: [
        [0, 0],
        [9, 0],
      ],
    } as never,
    50,
  );
  const other = pane(
    3,
    {
      kind: "section",
      line: [
        [2, 5],
        [9, 5],
      ],
    } as never,
    100,
  );
  expect(alignedPair(one, other, false)?.result.axis).toBe("y");
  const above = alignedPair(one, other, true);
  expect(above?.result.axis).toBe("x");
  expect(above?.source.zero).toBeCloseTo((2 * 1000) / 50, 9); // it begins two metres further left
});

test.each([
  [
    "a line that turns",
    {
      kind: "section",
      line: [
        [0, 0],
        [4, 0],
        [8, 3],
      ],
      corners: "turns",
    },
  ],
  ["a plan", { kind: "plan" }],
  ["a tilted plane", { kind: "plane" }],
])("%s has no axis to share", (_, cut) => {
  expect(alignedPair(plan, pane(2, cut as never, 50), true)).toBeNull();
});
