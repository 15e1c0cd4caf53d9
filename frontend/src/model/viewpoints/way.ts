import { dot, minus, type Plane, plus, scaled, unit, type V3 } from "../opening/opening";
import type { Eye } from "./seen";

const CLEAR = 0.2; // metres before the building at which a plane begins to slide
const TURN = 0.6; // share of the time that the eye takes, where a plane slides afterwards
const ALIKE = 0.9999; // cosine between directions that are the same

/** Begins and ends at rest. */
export const eased = (share: number) => share * share * (3 - 2 * share);

/** How far the eye has come, and the plane that slides after it; shares of their ways. */
export function paced(share: number, slides: boolean): { eye: number; plane: number } {
  if (!slides) return { eye: eased(share), plane: 1 };
  return {
    eye: eased(Math.min(1, share / TURN)),
    plane: eased(Math.max(0, (share - TURN / 2) / (1 - TURN / 2))),
  };
}

/** The eye on its way: it turns about what it looks at, which moves along, and comes nearer in even shares. */
export function between(from: Eye, to: Eye, share: number): Eye {
  const [a, b] = [minus(from.at, from.to), minus(to.at, to.to)];
  const far = Math.hypot(...a) * (Math.hypot(...b) / Math.hypot(...a)) ** share;
  const at = plus(scaled(from.to, 1 - share), to.to, share);
  return { at: plus(at, turnedTo(unit(a), unit(b), share), far), to: at };
}

/** A direction between two others, by the shorter way round. */
function turnedTo(a: V3, b: V3, share: number): V3 {
  const angle = Math.acos(Math.min(1, Math.max(-1, dot(a, b))));
  if (angle < 1e-4) return b;
  if (angle > Math.PI - 1e-3) {
    // straight to the other side: round the upright, not over it
    const aside = Math.abs(a[2]) > 0.9 ? ([1, 0, 0] as V3) : unit([-a[1], a[0], 0]);
    return share < 0.5 ? turnedTo(a, aside, share * 2) : turnedTo(aside, b, share * 2 - 1);
  }
  const [p, q] = [Math.sin((1 - share) * angle), Math.sin(share * angle)];
  return unit(scaled(plus(scaled(a, p), b, q), 1 / Math.sin(angle)));
}

/** From where a plane slides to its place, metres along its normal: from where the one before stood, if that lay the
 * same way, else from before all of the building. */
export function beginOf(plane: Plane, before: Plane | null, low: V3, high: V3): number {
  if (before && dot(before.normal, plane.normal) > ALIKE)
    return dot(minus(before.point, plane.point), plane.normal);
  const corner = plane.normal.map((x, k) => (x > 0 ? high[k] : low[k])) as V3;
  return Math.max(0, dot(minus(corner, plane.point), plane.normal)) + CLEAR;
}

export const slid = (plane: Plane, begin: number, share: number): Plane => ({
  ...plane,
  point: plus(plane.point, plane.normal, begin * (1 - share)),
});
