import { expect, test } from "vitest";
import type { Marker, SectionCut, Settings } from "../src/api/client";
import type { Place } from "../src/desk/mode";
import { corners, dragged, laid } from "../src/drawings-bench/cutting/marker-geometry";
import laidByTheCore from "./laid-markers.json";

type Case = Pick<Marker, "line" | "look" | "style" | "pieces"> & {
  scale: number;
  window: number[];
  heads: Place[];
  heavy: Place[][];
};
/** How the core lays markers out, metres. */
const known = laidByTheCore as unknown as { form: Settings["marker"]; markers: Case[] };
const near = (places: Place[]) => places.map((p) => p.map((x) => expect.closeTo(x, 5)));

test("lines are laid out as the core does it: their heavy parts, and their heads", () => {
  expect(known.markers.length).toBeGreaterThan(40);
  for (const { heavy, heads, ...one } of known.markers) {
    const mm = one.scale / 1000;
    const parts = one.pieces.map((piece) => laid(piece, one as unknown as Marker, known.form, mm));
    // the core tells ends from the inside out
    const strokes = parts.flatMap((p) => [
      ...p.heavy.map((stroke) => [...stroke].reverse()),
      ...corners(p.whole, known.form.corner * mm),
    ]);
    expect(strokes).toEqual(heavy.map(near));
    expect(parts.flatMap((p) => p.heads.map((h) => h.at))).toEqual(near(heads));
  }
});

test("a line that is dragged shows what the core will show of it", () => {
  for (const { window, ...one } of known.markers) {
    if (one.pieces.length !== 1) continue;
    const before = { ...one, line: [], pieces: [] } as unknown as Marker;
    const now = dragged(before, { line: one.line, look: one.look } as SectionCut, window, one.scale);
    expect(now.pieces.map((p) => p.line)).toEqual(one.pieces.map((p) => near(p.line as Place[])));
  }
});
