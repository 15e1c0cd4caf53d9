import { beforeEach, expect, test, vi } from "vitest";
import { startTool, useAnnotate } from "../src/annotating/state";
import { annotate } from "../src/annotating/tools";
import type { Cut, Drawing, Settings } from "../src/api/client";
import { useBench } from "../src/desk/drawings-state";
import { type Place, useMode } from "../src/desk/mode";
import type { PaperPointer } from "../src/drawing/canvas/DrawingCanvas";
import { useLook } from "../src/drawing/look";
import type { View } from "../src/drawing/screen-form";
import { startRegion } from "../src/drawings-bench/callouts/region-tool";
import { draftCut, type LineDraft, line, withTyped } from "../src/drawings-bench/cutting/line-draft";
import { startLine } from "../src/drawings-bench/cutting/line-tool";
import { Snapper } from "../src/drawings-bench/cutting/snaps";
import { startBreak } from "../src/drawings-bench/extents/break-tool";
import { startCorners } from "../src/drawings-bench/extents/corners-tool";
import { clickLevel, clickWall } from "../src/drawings-bench/lineage/click-tools";
import type { Pane } from "../src/drawings-bench/modes/tool";
import { stepBack, TOOLS } from "../src/drawings-bench/modes/tools";
import { chance } from "./chance";

const settings = { new_section: { depth: 5 }, new_style: {} } as unknown as Settings;
const saved = vi.fn();

/** A pane at 1:50 in which a rectangle of 8 m by 4 m shows. */
const pane = (part: Partial<Pane> = {}): Pane =>
  ({
    side: "source",
    project: { id: 1 },
    settings,
    drawing: { id: 7 } as Drawing,
    spec: { cut: { kind: "plan" } as Cut, style: {} },
    scale: 50,
    view: { window: [0, 0, 160, 80] } as unknown as View,
    croppable: true,
    snapper: new Snapper(null, undefined, []),
    save: saved,
    ...part,
  }) as unknown as Pane;

const inHand = () => TOOLS.find((t) => t.kind === useMode.getState().mode.kind);
/** A click at a place in metres; ten pixels are a millimetre of paper. */
const click = (at: Place, on = pane()) => {
  const tool = inHand();
  if (tool?.works(on)) tool.click(pointer(at), on);
};
const pointer = ([x, y]: Place): PaperPointer => ({
  paper: { x: x * 20, y: y * 20 },
  shift: false,
  alt: false,
  zoom: 10,
});
const press = (key: string, on = pane()) => inHand()?.key({ key } as KeyboardEvent, on);

beforeEach(() => {
  vi.spyOn(console, "warn").mockReturnValue(); // that what is kept in the browser has nowhere to go here
  while (stepBack());
  saved.mockClear();
});

test("every tool is of another kind", () => {
  expect(new Set(TOOLS.map((t) => t.kind)).size).toBe(TOOLS.length);
});

test("in any order one thing is in hand, and Escape leads back to none", () => {
  const random = chance(5);
  const acts: [string, () => void][] = [
    ["line", () => startLine("elevation")],
    ["region", () => startRegion("polygon", "detail")],
    ["corners", startCorners],
    ["break", startBreak],
    ["wall", () => clickWall.set({})],
    ["annotate", () => startTool("dimension")],
  ];
  for (let round = 0; round < 300; round++) {
    const [kind, take] = random.one(acts);
    take();
    expect(useMode.getState().mode.kind).toBe(kind);
    for (let k = 0; k < 3; k++)
      if (kind !== "annotate" && kind !== "wall") click([random.within(1, 7), random.within(1, 3)]);
    useBench.getState().setPicked({ drawing: 7, found: [], at: 0, many: false });
    useLook.getState().setBoxing(random.one([true, false]));
    if (random.one([true, false])) useBench.getState().choose(1, 7);
    let steps = 0;
    while (stepBack()) steps += 1;
    expect(steps).toBeLessThan(7);
    expect(useMode.getState().mode.kind).toBe("look");
    expect([useLook.getState().boxing, useBench.getState().picked]).toEqual([false, null]);
  }
});

test("another drawing is chosen: a line is left, an annotation tool stays", () => {
  startLine("section");
  useBench.getState().choose(1, 3);
  expect(inHand()).toBeUndefined();
  startTool("note");
  useBench.getState().choose(1, 4);
  expect(inHand()?.kind).toBe("annotate");
});

test("Escape takes back the last reference of an annotation, then its tool, then what is chosen", () => {
  startTool("angle");
  const at = { at: [0, 0] as Place, snap: null };
  annotate.set({ tool: "angle", drawing: 7, picks: [at, at], pointer: null });
  stepBack();
  expect(annotate.now()).toMatchObject({ drawing: 7, picks: [at] });
  stepBack();
  expect(annotate.now()).toMatchObject({ drawing: null, picks: [] });
  stepBack();
  expect(annotate.now()).toBeNull();
  useAnnotate.getState().choose({ drawing: 7, ids: [1] });
  expect([stepBack(), stepBack(), useAnnotate.getState().chosen]).toEqual([true, false, null]);
});

test("a line: click, click, side and depth; Escape goes the same way back", () => {
  startLine("section");
  click([1, 2]);
  click([1.01, 2]); // too short to be a line
  expect(line.now()?.draft.stage).toBe("second");
  click([6, 2]);
  inHand()?.move(pointer([3, 4.5]), pane());
  expect(line.now()?.draft).toMatchObject({ a: [1, 2], b: [6, 2], look: "left", depth: 2.5 });
  press("Tab");
  expect(draftCut(line.now()?.draft, settings)).toMatchObject({ look: "right", depth: 2.5 });
  const stages = [];
  while (stepBack()) stages.push(line.now()?.draft.stage);
  expect(stages).toEqual(["second", "first", undefined]);
});

test("a line is drawn on plans in the source pane alone", () => {
  startLine("section");
  click([1, 2], pane({ side: "result" }));
  click([1, 2], pane({ spec: { cut: { kind: "section" } as Cut, style: {} as never } }));
  expect(line.now()?.draft.stage).toBe("first");
});

const SECOND: LineDraft = { stage: "second", a: [1, 1] };
const DEEP: LineDraft = { stage: "depth", a: [1, 1], b: [4, 1], look: "left", depth: 3 };
test.each<[string, LineDraft, string, Place | null, unknown]>([
  ["a length goes towards the pointer", SECOND, "2", [1, 9], { b: [1, 3] }],
  ["a length and an angle", SECOND, "2<180", [9, 9], { b: [-1, 1] }],
  ["an angle alone keeps how far the pointer is", SECOND, "<90", [4, 1], { b: [1, 4] }],
  ["no angle", SECOND, "2<x", [9, 9], null],
  ["no length", SECOND, "x", [9, 9], null],
  ["nothing below nothing", SECOND, "-2", [9, 9], null],
  ["no pointer yet", SECOND, "2", null, null],
  ["a depth", DEEP, "6", [0, 0], { depth: 6, look: "left" }],
  ["nothing typed leaves the depth", DEEP, "", [0, 0], null],
  ["nothing is typed for the first end", { stage: "first" }, "2", [0, 0], null],
])("typed: %s", (_what, draft, typed, pointer, wanted) => {
  const found = withTyped({ draft, typed, pointer }, (text) => (text === "x" ? null : Number(text)), 5);
  if (wanted) expect(found).toMatchObject(wanted as object);
  else expect(found).toBeNull();
});

test("what is typed shows while a line is drawn, and Backspace takes it back", () => {
  startLine("section");
  press("2");
  expect(line.now()?.typed).toBe("");
  click([1, 2]);
  for (const key of ["2", "4", "c", "x", "Backspace"]) press(key);
  expect(line.now()?.typed).toBe("24");
});

const RING: Place[] = [
  [1, 1],
  [5, 1],
  [5, 3],
];
test.each([
  ["the first corner again", () => click([1, 1])],
  ["Enter", () => press("Enter")],
])("the polygon of the extents is closed by %s", (_by, close) => {
  startCorners();
  for (const at of RING) click(at);
  close();
  expect(saved.mock.calls[0]?.[0].cut.extents.polygon).toEqual(RING);
  expect(inHand()).toBeUndefined();
});

test("two corners are no polygon: nothing is saved", () => {
  startCorners();
  click([1, 1]);
  click([5, 1]);
  press("Enter");
  expect(saved).not.toHaveBeenCalled();
});

test("corners go to the drawing that was clicked first, and only where its extents are changed", () => {
  startCorners();
  click([1, 1], pane({ croppable: false }));
  expect(useMode.getState().mode).toMatchObject({ drawing: null });
  click([1, 1]);
  click([2, 2], pane({ drawing: { id: 8 } as Drawing }));
  expect(useMode.getState().mode).toMatchObject({ drawing: 7, points: [[1, 1]] });
});

test("a click on an edge breaks it, or takes its break off", () => {
  startBreak();
  click([8.02, 2]);
  expect(saved.mock.calls[0]?.[0].cut.extents.broken).toEqual(["right"]);
  startBreak();
  const cut = { kind: "plan", extents: { broken: ["right"] } } as unknown as Cut;
  click([8.02, 2], pane({ spec: { cut, style: {} as never } }));
  expect(saved.mock.calls[1]?.[0].cut.extents.broken).toEqual([]);
});

test("two clicks take out what lies between them, along the axis in which they lie further apart", () => {
  startBreak();
  click([5, 1.5]);
  click([2, 2]);
  expect(saved.mock.calls[0]?.[0].cut.extents.breaks).toEqual([{ axis: "u", start: 2, end: 5 }]);
  startBreak();
  click([2, 2]);
  click([2, 2]);
  expect(saved).toHaveBeenCalledTimes(1);
});

test("a plan of a level is clicked in upright drawings alone", () => {
  clickLevel.set({});
  expect(inHand()?.works(pane())).toBe(false);
  expect(inHand()?.works(pane({ spec: { cut: { kind: "elevation" } as Cut, style: {} as never } }))).toBe(
    true,
  );
});
