import type { Guide, Placement, Sheet } from "../../api/client";
import type { Spot } from "../../drawing/camera";
import { boxOf, type TablePlace } from "./table-places";

type Box = readonly number[];
type Line = { way: "x" | "y"; at: number; of: string; says: string };
/** A line that a moved drawing was brought to. */
export type Snap = { way: "x" | "y"; at: number; says: string };

const PREFERRED = 0.4; // how much nearer what belongs to the building counts than edges of paper

function linesOf(box: Box, says: string): Line[] {
  const [left = 0, base = 0, right = 0, top = 0] = box;
  return [
    { way: "x", at: left, of: "edge", says: `edge of ${says}` },
    { way: "x", at: right, of: "edge", says: `edge of ${says}` },
    { way: "x", at: (left + right) / 2, of: "middle", says: `middle of ${says}` },
    { way: "y", at: base, of: "edge", says: `edge of ${says}` },
    { way: "y", at: top, of: "edge", says: `edge of ${says}` },
    { way: "y", at: (base + top) / 2, of: "middle", says: `middle of ${says}` },
  ];
}

/** What stands on a sheet: a drawing by the number of its placement, a table by one below zero. */
export type Standing = { id: number; box: Box; says: string };
export const drawingOf = (p: Placement): Standing => ({ id: p.id, box: p.box, says: `drawing ${p.number}` });
export const tableOf = (place: TablePlace, k: number): Standing => ({
  id: -1 - k,
  box: boxOf(place),
  says: "a table",
});

/** Where what is moved comes to stand: brought to edges and middles of others and of drawing areas, and level
 * or in line with what others show of the building; with a word for each. `near`: mm. */
export function snapped(
  sheet: Sheet,
  moved: Standing[],
  by: Spot,
  guides: Guide[],
  near: number,
): { by: Spot; snaps: Snap[] } {
  const ids = new Set(moved.map((p) => p.id));
  const standing = [...sheet.placements.map(drawingOf), ...(sheet.fields.tables ?? []).map(tableOf)];
  const still = standing.filter((p) => !ids.has(p.id));
  const words = new Map(still.map((p) => [p.id, p.says]));
  const own: Line[] = [
    ...moved.flatMap((p) => linesOf(p.box, p.says)),
    ...guides.filter((g) => ids.has(g.placement)),
  ];
  const targets: Line[] = [
    ...still.flatMap((p) => linesOf(p.box, p.says)),
    ...sheet.areas.flatMap((a) => linesOf(a.box, a.name)),
    ...guides
      .filter((g) => words.has(g.placement))
      .map((g) => ({ ...g, says: `${g.says} of ${words.get(g.placement)}` })),
  ];
  const snaps: Snap[] = [];
  const result = { ...by };
  for (const way of ["x", "y"] as const) {
    let best = near;
    for (const line of own)
      for (const target of targets) {
        if (line.way !== way || target.way !== way || line.of !== target.of) continue;
        const off = target.at - line.at - by[way];
        const weight = line.of === "edge" || line.of === "middle" ? 1 : PREFERRED;
        if (Math.abs(off) > near || Math.abs(off) * weight >= best) continue;
        best = Math.abs(off) * weight;
        result[way] = by[way] + off;
        snaps[way === "x" ? 0 : 1] = { way, at: target.at, says: target.says };
      }
  }
  return { by: result, snaps: snaps.filter(Boolean) };
}
