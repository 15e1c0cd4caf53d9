import type { Leaf, Solid } from "../../api/client";
import type { Lock } from "../model-state";
import { axesOf, dot, minus, type Plane, plus, type V3 } from "./opening";

const AIR = 1; // metres around the building that a plane is shown

export const middleOf = ({ low, high }: Solid): V3 => [
  (low[0] + high[0]) / 2,
  (low[1] + high[1]) / 2,
  (low[2] + high[2]) / 2,
];

/** How large the building is, metres across. */
export const sizeOf = ({ low, high }: Solid) =>
  Math.hypot(high[0] - low[0], high[1] - low[1], high[2] - low[2]);

/** The corners of a plane as far as the building goes; `shift` metres along its normal. */
export function cornersOf(plane: Plane, { low, high }: Solid, shift = 0): V3[] {
  const { u, v } = axesOf(plane);
  let [u0, u1, v0, v1] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const x of [low[0], high[0]])
    for (const y of [low[1], high[1]])
      for (const z of [low[2], high[2]]) {
        const from = minus([x, y, z], plane.point);
        [u0, u1] = [Math.min(u0, dot(from, u)), Math.max(u1, dot(from, u))];
        [v0, v1] = [Math.min(v0, dot(from, v)), Math.max(v1, dot(from, v))];
      }
  const at = (a: number, b: number): V3 => plus(plus(plus(plane.point, plane.normal, shift), u, a), v, b);
  return [at(u0 - AIR, v0 - AIR), at(u1 + AIR, v0 - AIR), at(u1 + AIR, v1 + AIR), at(u0 - AIR, v1 + AIR)];
}

/** The corners of one plane of a drawing. */
export function leafCorners({ origin, u, v, window: [left, base, right, top] }: Leaf): V3[] {
  const at = (a: number, b: number): V3 => plus(plus(origin as V3, u as V3, a), v as V3, b);
  return [at(left, base), at(right, base), at(right, top), at(left, top)];
}

/** The plane of a drawing with one straight cut; its point lies in the middle of the building. */
export function planeOf(leaf: Leaf, solid: Solid): Plane {
  const normal: V3 = [-leaf.w[0], -leaf.w[1], -leaf.w[2]].map((x) => x || 0) as V3;
  const middle = middleOf(solid);
  return { normal, point: plus(middle, normal, -dot(minus(middle, leaf.origin as V3), normal)) };
}

/** How far along a line (a point, a direction) it comes nearest to a ray. */
export function nearestOn(point: V3, along: V3, origin: V3, ray: V3): number {
  const from = minus(point, origin);
  const b = dot(along, ray);
  const below = 1 - b * b;
  if (below < 1e-6) return 0; // the line is seen end on
  return (b * dot(ray, from) - dot(along, from)) / below;
}

export const AXES: Record<"x" | "y" | "z", V3> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

/** The direction that a lock holds a plane square to; `turn`: degrees of the building's length in the model. */
function axisOf(lock: Exclude<Lock, "face">, turn: number): V3 {
  if (lock === "x" || lock === "y" || lock === "z") return AXES[lock];
  const a = ((lock === "along" ? turn : turn + 90) * Math.PI) / 180;
  return [Math.cos(a), Math.sin(a), 0];
}

/** A plane through a place: that of its face, or square to an axis, seen from the viewer's side. */
export function planeThrough(at: V3, face: V3, lock: Lock, towards: V3, turn: number): Plane {
  if (lock === "face") return { point: at, normal: face };
  const axis = axisOf(lock, turn);
  return { point: at, normal: dot(axis, towards) < 0 ? (axis.map((x) => -x || 0) as V3) : axis };
}

/** A plane turned to lie square to a direction, from the side that it is seen from. */
export const squared = (plane: Plane, lock: Exclude<Lock, "face">, turn: number): Plane =>
  planeThrough(plane.point, plane.normal, lock, plane.normal, turn);

/** The lock that a plane's direction answers to. */
export function lockOf({ normal }: Plane, turn: number): Lock {
  const locks = ["x", "y", "z", "along", "across"] as const;
  return locks.find((lock) => Math.abs(dot(normal, axisOf(lock, turn))) > 0.9999) ?? "face";
}

/** Whether the building has directions of its own, which are not the model's. */
export const isTurned = ({ turn }: Solid) => Math.min(turn % 90, 90 - (turn % 90)) > 0.05;

/** Metres as fine as the browser's model is. */
export const wholeMm = (metres: number) => Math.round(metres * 1000) / 1000;
