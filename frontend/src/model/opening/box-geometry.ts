import type { ExtentsBox } from "../../api/client";
import { axesOf, dot, ENDLESS, minus, type Plane, type Taking, type V3 } from "./opening";

const LEAST = 0.05; // metres that a box keeps along each side
const TIDY = 1000;

/** A side of a box: which of its six numbers it is, its plane (the normal looks out of the box), its corners. */
export type BoxSide = { axis: 0 | 1 | 2; end: "low" | "high"; plane: Plane; corners: V3[] };

const NAMES = ["left", "right", "front", "back", "base", "top"] as const;
export const sideName = ({ axis, end }: BoxSide) => NAMES[axis * 2 + (end === "low" ? 0 : 1)] as string;

/** The sides of a box of shared extents. */
export function boxSides({ low, high, turn = 0 }: ExtentsBox): BoxSide[] {
  const a = (turn * Math.PI) / 180;
  const [c, s] = [Math.cos(a), Math.sin(a)];
  const at = (p: V3): V3 => [p[0] * c - p[1] * s, p[0] * s + p[1] * c, p[2]];
  const sides: BoxSide[] = [];
  for (const axis of [0, 1, 2] as const)
    for (const end of ["low", "high"] as const) {
      const value = (end === "low" ? low : high)[axis] as number;
      const [i, j] = [(axis + 1) % 3, (axis + 2) % 3];
      const corner = (p: number, q: number): V3 => {
        const place: V3 = [0, 0, 0];
        place[axis] = value;
        place[i] = p;
        place[j] = q;
        return at(place);
      };
      const [p0, p1] = [low[i] as number, high[i] as number];
      const [q0, q1] = [low[j] as number, high[j] as number];
      const out: V3 = [0, 0, 0];
      out[axis] = end === "low" ? -1 : 1;
      const normal = at(out).map((x) => (Math.abs(x) < 1e-9 ? 0 : x)) as V3;
      const corners = [corner(p0, q0), corner(p1, q0), corner(p1, q1), corner(p0, q1)];
      sides.push({ axis, end, corners, plane: { point: corner((p0 + p1) / 2, (q0 + q1) / 2), normal } });
    }
  return sides;
}

/** What a box takes away: all that lies outside of it. */
export const boxTakings = (box: ExtentsBox): Taking[] =>
  boxSides(box).map(({ plane }) => {
    const { u, w } = axesOf(plane);
    return { origin: plane.point, u, w, left: -ENDLESS, right: ENDLESS, far: ENDLESS };
  });

/** The corners of a side in the axes that the core gives a cut in its plane, metres. */
export function sidePolygon({ plane, corners }: BoxSide): [number, number][] {
  const { u, v } = axesOf(plane);
  return corners.map((corner) => {
    const from = minus(corner, plane.point);
    return [dot(from, u), dot(from, v)];
  });
}

/** A box with one side moved out by so much (metres). */
export function movedSide(box: ExtentsBox, { axis, end }: BoxSide, by: number): ExtentsBox {
  const [low, high] = [[...box.low] as V3, [...box.high] as V3];
  const tidy = (value: number) => Math.round(value * TIDY) / TIDY;
  if (end === "low") low[axis] = Math.min(tidy(low[axis] - by), high[axis] - LEAST);
  else high[axis] = Math.max(tidy(high[axis] + by), low[axis] + LEAST);
  return { ...box, low, high };
}
