import type { Snaps } from "../api/client";
import type { Place, SnapSpot } from "./tools";

/** Finds what lies near a place of a drawing; corners and vertices go before sides, these before levels and grid lines. */
export class SnapIndex {
  constructor(private readonly snaps: Snaps) {}

  near(at: Place, reach: number): SnapSpot | null {
    return (
      this.point(this.snaps.corners, at, reach, "corner") ??
      this.point(this.snaps.vertices, at, reach, "end") ??
      this.line(at, reach) ??
      this.named(at, reach)
    );
  }

  private point(flat: number[], [u, v]: Place, reach: number, word: string): SnapSpot | null {
    let best = reach * reach;
    let found: Place | null = null;
    for (let k = 0; k < flat.length; k += 2) {
      const du = (flat[k] as number) - u;
      if (du > reach || du < -reach) continue;
      const dv = (flat[k + 1] as number) - v;
      const far = du * du + dv * dv;
      if (far <= best) {
        best = far;
        found = [flat[k] as number, flat[k + 1] as number];
      }
    }
    return found && { at: found, word };
  }

  private line(at: Place, reach: number): SnapSpot | null {
    const flat = this.snaps.sides;
    let best = reach;
    let found: Place | null = null;
    for (let k = 0; k < flat.length; k += 4) {
      const spot = onSegment(at, flat.slice(k, k + 4) as [number, number, number, number]);
      const far = Math.hypot(spot[0] - at[0], spot[1] - at[1]);
      if (far <= best) {
        best = far;
        found = spot;
      }
    }
    return found && { at: found, word: "side" };
  }

  private named(at: Place, reach: number): SnapSpot | null {
    for (const { guid, name, v } of this.snaps.levels)
      if (Math.abs(v - at[1]) <= reach) return { at: [at[0], v], word: `level ${name}`, level: guid };
    for (const { name, start, end } of this.snaps.grid) {
      const spot = onSegment(at, [...start, ...end]);
      if (Math.hypot(spot[0] - at[0], spot[1] - at[1]) <= reach)
        return { at: spot, word: `grid line ${name}`, grid: name };
    }
    return null;
  }
}

function onSegment([u, v]: Place, [u0, v0, u1, v1]: [number, number, number, number]): Place {
  const [du, dv] = [u1 - u0, v1 - v0];
  const size = du * du + dv * dv || 1;
  const share = Math.min(1, Math.max(0, ((u - u0) * du + (v - v0) * dv) / size));
  return [u0 + share * du, v0 + share * dv];
}
