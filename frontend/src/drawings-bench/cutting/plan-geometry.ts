import type { SectionCut } from "../../api/client";
import type { Look } from "../../desk/drawings-state";
import type { Place } from "../../desk/mode";
import type { Spot } from "../../drawing/camera";

/** Plans have the model's axes: a model point (metres) and its place on paper (mm) at the plan's scale. */
export const onPaper = ([x, y]: Place, scale: number): Spot => ({
  x: (x * 1000) / scale,
  y: (y * 1000) / scale,
});
export const onModel = (p: Spot, scale: number): Place => [(p.x * scale) / 1000, (p.y * scale) / 1000];

export { OPEN_EXTENTS, withExtents } from "../../drawing/extents";

const tidy = (value: number) => Math.round(value * 1000) / 1000;
export const rounded = ([x, y]: Place): Place => [tidy(x), tidy(y)];
/** The point at a share of the way from a to b. */
export const between = (a: Place, b: Place, share: number): Place => [
  a[0] + (b[0] - a[0]) * share,
  a[1] + (b[1] - a[1]) * share,
];
export const distance = (a: Place, b: Place) => Math.hypot(b[0] - a[0], b[1] - a[1]);

const CLOSES = 10; // pixels about the first corner of a ring in which a click closes it

/** Whether a click closes a ring that is being drawn: `zoom` in pixels per mm of paper. */
export function closesRing(points: Place[], at: Place, zoom: number, scale: number): boolean {
  const [first] = points;
  return first !== undefined && points.length > 2 && distance(first, at) < (CLOSES / zoom) * (scale / 1000);
}

/** The point on the nearest straight direction (every 45°) from a. */
export function straight(a: Place, p: Place): Place {
  const length = distance(a, p);
  const angle = Math.round(Math.atan2(p[1] - a[1], p[0] - a[0]) / (Math.PI / 4)) * (Math.PI / 4);
  return [a[0] + length * Math.cos(angle), a[1] + length * Math.sin(angle)];
}

/** Signed distance of p from the line a–b: positive to the left, walking from a. */
export function beside(a: Place, b: Place, p: Place): number {
  const length = distance(a, b) || 1;
  return ((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])) / length;
}

export type Leg = { a: Place; b: Place; depth: number | null };

/** The cutting legs of a line, steps left out: a leg at right angles to the one before it is a step, unless it is
 * the last one or right angles turn. */
export function legsOf(cut: SectionCut): Leg[] {
  const legs: Leg[] = [];
  for (let k = 0; k + 1 < cut.line.length; k++) {
    const [a, b] = [cut.line[k] as Place, cut.line[k + 1] as Place];
    const before = legs.at(-1);
    const last = k + 2 === cut.line.length;
    if (before && !last && cut.corners !== "turns" && isSquare(before, a, b)) continue;
    const depth = cut.depths?.length ? (cut.depths[legs.length] ?? null) : (cut.depth ?? null);
    legs.push({ a, b, depth });
  }
  return legs;
}

/** The legs as they are drawn from left to right, each with where it begins along the drawing, metres. */
export function drawnLegs(cut: SectionCut): { a: Place; b: Place; from: number }[] {
  const legs = legsOf(cut);
  const drawn = cut.look === "right" ? legs.reverse().map(({ a, b }) => ({ a: b, b: a })) : legs;
  let from = 0;
  return drawn.map(({ a, b }) => {
    const leg = { a, b, from };
    from += distance(a, b);
    return leg;
  });
}

/** The point of a cutting line so many metres along its drawing, `off` metres to the side that is looked at. */
export function alongLine(cut: SectionCut, along: number, off = 0): Place {
  const legs = drawnLegs(cut);
  const leg = legs.findLast((l) => l.from <= along + 1e-6) ?? legs[0];
  if (!leg) return cut.line[0] as Place;
  const { along: d, look } = directions([leg.a, leg.b], "left");
  return shifted(shifted(leg.a, d, along - leg.from), look, off);
}

function isSquare(leg: { a: Place; b: Place }, a: Place, b: Place): boolean {
  const dot = (leg.b[0] - leg.a[0]) * (b[0] - a[0]) + (leg.b[1] - leg.a[1]) * (b[1] - a[1]);
  return Math.abs(dot) < Math.sin(Math.PI / 180) * distance(leg.a, leg.b) * distance(a, b);
}

/** The line with a step in the middle of its longest leg, one metre towards the side looked at. */
export function withStep(cut: SectionCut): SectionCut {
  const legs = legsOf(cut);
  const longest = [...legs].sort((p, q) => distance(q.a, q.b) - distance(p.a, p.b))[0];
  if (!longest) return cut;
  const { look } = directions([longest.a, longest.b], cut.look);
  const middle: Place = [(longest.a[0] + longest.b[0]) / 2, (longest.a[1] + longest.b[1]) / 2];
  const at = cut.line.findIndex((p) => p[0] === longest.b[0] && p[1] === longest.b[1]);
  const before = cut.line.slice(0, at) as Place[];
  const after = cut.line.slice(at) as Place[];
  const moved = after.map((p) => rounded(shifted(p, look, 1)));
  return {
    ...cut,
    line: [...before, rounded(middle), rounded(shifted(middle, look, 1)), ...moved],
    depths: [],
  };
}

/** The line without its last step. */
export function withoutStep(cut: SectionCut): SectionCut {
  const { line } = cut;
  const last = line.at(-1) as Place;
  const kept = line.slice(0, -3) as Place[];
  const from = kept.at(-1);
  if (line.length < 4 || !from) return { ...cut, line: [line[0] as Place, last], depths: [] };
  const [corner] = line.slice(-3) as [Place];
  const run = distance(line.at(-2) as Place, last);
  const leg = distance(from, corner) || 1;
  const end: Place = [
    corner[0] + ((corner[0] - from[0]) / leg) * run,
    corner[1] + ((corner[1] - from[1]) / leg) * run,
  ];
  return { ...cut, line: [...kept, rounded(end)], depths: [] };
}

/** Unit vectors along the first leg of a line and to the side that is looked at. */
export function directions(line: SectionCut["line"], look: Look): { along: Place; look: Place } {
  const [a, b] = line as [Place, Place];
  const length = distance(a, b) || 1;
  const along: Place = [(b[0] - a[0]) / length, (b[1] - a[1]) / length];
  const sign = look === "left" ? 1 : -1;
  return { along, look: [-along[1] * sign, along[0] * sign] };
}

export const shifted = ([x, y]: Place, [dx, dy]: Place, by: number): Place => [x + dx * by, y + dy * by];

/** A line from where it first comes into a box (left, base, right, top) to where it last leaves it. */
export function clippedTo(box: number[], line: Place[]): Place[] {
  const legs = line
    .slice(1)
    .map((b, k) => ({ a: line[k] as Place, b, share: shareWithin(box, line[k] as Place, b) }));
  const first = legs.findIndex((leg) => leg.share !== null);
  const last = legs.findLastIndex((leg) => leg.share !== null);
  const [from, to] = [legs[first], legs[last]];
  if (!from?.share || !to?.share) return [];
  return [
    between(from.a, from.b, from.share[0]),
    ...line.slice(first + 1, last + 1),
    between(to.a, to.b, to.share[1]),
  ];
}

/** From which to which share of its way from a to b a leg lies in a box; null where it doesn't. */
function shareWithin(box: number[], a: Place, b: Place): [number, number] | null {
  let [low, high] = [0, 1];
  for (const k of [0, 1] as const) {
    const d = b[k] - a[k];
    const [least, most] = [(box[k] ?? 0) - a[k], (box[k + 2] ?? 0) - a[k]];
    if (d === 0 && (least > 0 || most < 0)) return null;
    if (d === 0) continue;
    low = Math.max(low, Math.min(least / d, most / d));
    high = Math.min(high, Math.max(least / d, most / d));
  }
  return high > low ? [low, high] : null;
}
