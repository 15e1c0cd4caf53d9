import type { Axes } from "../../drawing/screen-form";

export type V3 = [x: number, y: number, z: number];
/** A plane by a point in it and its normal, which points to the viewer; what lies before it is taken away. */
export type Plane = { point: V3; normal: V3 };
/** One plane of a cut, from left to right along it: what lies before it there (against `w`) is taken away. */
export type Taking = { origin: V3; u: V3; w: V3; left: number; right: number; far: number };
/** What lies before all of some planes. */
export type Space = { planes: Plane[] };
/** Cuts that the model is opened by: what lies before all of them together is taken away. */
export type Opening = Taking[][];

export const MOST_LEAVES = 16;
export const ENDLESS = 1e6; // metres
const TOUCH = 1e-4; // metres; what lies in the plane stays

export const dot = (a: V3, b: V3) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const minus = (a: V3, b: V3): V3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const plus = (a: V3, b: V3, times = 1): V3 => [
  a[0] + b[0] * times,
  a[1] + b[1] * times,
  a[2] + b[2] * times,
];
export const cross = (a: V3, b: V3): V3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const scaled = (a: V3, by: number): V3 => [a[0] * by, a[1] * by, a[2] * by];
export function unit(a: V3): V3 {
  const long = Math.hypot(...a);
  return long < 1e-9 ? [0, 0, 1] : scaled(a, 1 / long);
}

/** Axes in a plane as the core has them: right, and up as far as up lies in it. */
export function axesOf({ normal }: Plane): { u: V3; v: V3; w: V3 } {
  const w = scaled(unit(normal), -1);
  let steep = minus([0, 0, 1], scaled(w, w[2]));
  if (Math.hypot(...steep) < 1e-6) steep = minus([0, 1, 0], scaled(w, w[1]));
  const v = unit(steep);
  return { u: cross(w, v), v, w };
}

export function takingOf(plane: Plane, thickness: number | null): Taking {
  const { u, w } = axesOf(plane);
  return { origin: plane.point, u, w, left: -ENDLESS, right: ENDLESS, far: thickness ?? ENDLESS };
}

/** The planes of a cut from left to right, each with where it begins, metres; the outer ones go on beside the drawing. */
export const takingsOf = (leaves: (Pick<Axes, "origin" | "u" | "w"> & { left: number })[]): Taking[] =>
  leaves.map(({ origin, u, w, left }, k) => ({
    origin: origin as V3,
    u: u as V3,
    w: w as V3,
    left: k === 0 ? -ENDLESS : left,
    right: leaves[k + 1]?.left ?? ENDLESS,
    far: ENDLESS,
  }));

/** What is taken away as a drawing says it: spaces, each before all of its planes. */
export function openingsOf(opening: Opening): Space[] {
  if (opening.length === 0) return [];
  let spaces: Plane[][] = [[]];
  for (const cut of opening)
    spaces = spaces.flatMap((space) => cut.map((leaf) => [...space, ...before(leaf)]));
  const far = opening.flat().filter((leaf) => leaf.far < ENDLESS);
  const behind = far.map(({ origin, w, far }) => [{ point: plus(origin, w, far), normal: w }]);
  return [...spaces, ...behind].map((planes) => ({ planes }));
}

/** The planes before which one of a cut takes something away. */
function before({ origin, u, w, left, right }: Taking): Plane[] {
  const found: Plane[] = [{ point: origin, normal: scaled(w, -1) }];
  if (left > -ENDLESS) found.push({ point: plus(origin, u, left), normal: u });
  if (right < ENDLESS) found.push({ point: plus(origin, u, right), normal: scaled(u, -1) });
  return found;
}

/** Whether a place is taken away: it lies before all cuts, or behind the far side of a slice. */
export function isTaken(opening: Opening, at: V3): boolean {
  if (opening.length === 0) return false;
  let behind = false;
  const before = opening.every((cut) =>
    cut.some((leaf) => {
      const from = minus(at, leaf.origin);
      const along = dot(from, leaf.u);
      const depth = dot(from, leaf.w);
      const here = along >= leaf.left && along <= leaf.right;
      behind ||= here && depth > leaf.far + TOUCH;
      return here && depth < -TOUCH;
    }),
  );
  return before || behind;
}

/** A plane turned by degrees about an axis through its point. */
export function turned({ point, normal }: Plane, axis: V3, degrees: number): Plane {
  const a = (degrees * Math.PI) / 180;
  const k = unit(axis);
  const rotated = plus(
    plus(scaled(normal, Math.cos(a)), cross(k, normal), Math.sin(a)),
    k,
    dot(k, normal) * (1 - Math.cos(a)),
  );
  return { point, normal: unit(rotated) };
}

/** The same plane, looked at from its other side. */
export const turnedRound = (plane: Plane): Plane => turned(plane, axesOf(plane).v, 180);
