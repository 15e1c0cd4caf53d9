import type { Ground, GroundRole, Grounds } from "../../api/client";
import type { V3 } from "../opening/opening";

/** A point of the ground that can be given another height. */
export type GroundPoint = { role: GroundRole; index: number; at: V3 };

export const MOST = 200; // handles in the picture at a time
const ROLES: GroundRole[] = ["existing", "proposed"];

/** The points of the grounds, those nearest to a place first, and how many there are. */
export function groundPoints(grounds: Grounds, [x, y]: V3): { points: GroundPoint[]; of: number } {
  const all = ROLES.flatMap((role) => pointsOf(grounds[role]).map((at, index) => ({ role, index, at })));
  const far = ({ at }: GroundPoint) => Math.hypot(at[0] - x, at[1] - y);
  return { points: [...all].sort((a, b) => far(a) - far(b)).slice(0, MOST), of: all.length };
}

function pointsOf(ground: Ground | null | undefined): V3[] {
  const shape = ground?.shape;
  if (shape?.kind === "points") return shape.points as V3[];
  if (shape?.kind !== "profile") return [];
  const [x0, y0] = shape.start as [number, number];
  const [x1, y1] = shape.end as [number, number];
  const long = Math.hypot(x1 - x0, y1 - y0);
  const [u, v] = [(x1 - x0) / long, (y1 - y0) / long];
  return shape.heights.map(([s, z]) => [x0 + (s as number) * u, y0 + (s as number) * v, z as number]);
}

/** The grounds with another height at a point of a profile. */
export function raised(grounds: Grounds, { role, index }: GroundPoint, height: number): Grounds {
  const ground = grounds[role];
  if (ground?.shape?.kind !== "profile") return grounds;
  const heights = ground.shape.heights.map(([s, z], k) => [s, k === index ? height : z] as [number, number]);
  return { ...grounds, [role]: { ...ground, shape: { ...ground.shape, heights } } };
}
