import type { Extents, Region } from "../../api/client";
import type { Place } from "../../desk/mode";
import { distance, OPEN_EXTENTS } from "../cutting/plan-geometry";

const ROUND = 72; // corners of a circle

/** The corners of a region, metres in its drawing. */
export function outlineOf({ shape, points }: Pick<Region, "shape" | "points">): Place[] {
  const [a, b] = points as [Place, Place];
  if (shape === "polygon") return points as Place[];
  if (shape === "rectangle") return [a, [b[0], a[1]], b, [a[0], b[1]]];
  const reach = distance(a, b);
  return Array.from({ length: ROUND }, (_, k) => {
    const turn = (2 * Math.PI * k) / ROUND;
    return [a[0] + reach * Math.cos(turn), a[1] + reach * Math.sin(turn)];
  });
}

/** What shows of a callout while its region is dragged. */
export function extentsOf(region: Pick<Region, "shape" | "points">, before: Partial<Extents>): Extents {
  const ring = outlineOf(region);
  const [us, vs] = [ring.map((p) => p[0]), ring.map((p) => p[1])];
  return {
    ...OPEN_EXTENTS,
    ...before,
    left: Math.min(...us),
    right: Math.max(...us),
    base: Math.min(...vs),
    top: Math.max(...vs),
    polygon: region.shape === "rectangle" ? [] : ring,
  };
}

/** The region that a callout's extents stand for while they are dragged; `before`: where a side is open. */
export function regionOf(extents: Partial<Extents>, before: Region): Region {
  const old = extentsOf(before, {});
  const { left, right, base, top, polygon } = { ...old, ...extents };
  if (polygon.length > 0) return { ...before, shape: "polygon", points: polygon };
  const corner = [left ?? old.left ?? 0, base ?? old.base ?? 0] as Place;
  return { ...before, shape: "rectangle", points: [corner, [right ?? old.right ?? 0, top ?? old.top ?? 0]] };
}

export const moved = (points: readonly (readonly number[])[], by: Place): Place[] =>
  points.map(([u, v]) => [(u ?? 0) + by[0], (v ?? 0) + by[1]]);
