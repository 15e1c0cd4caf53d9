import type { SpotIn } from "../api/client";
import type { Options } from "./state";
import type { Pick, Place } from "./tools";

/** What the server ties an annotation to at a place. */
export function spotOf(pick: Pick, reach: number): SpotIn {
  const { at, snap } = pick;
  return {
    at,
    reach: snap ? Math.max(0.5, reach / 8) : reach,
    only: snap ? [] : ["inside"],
    level: snap?.level ?? "",
    grid: snap?.grid ?? "",
    room: "",
  };
}

/** What something drawn freely is tied to: the nearest corner or end within some way, else the place itself. */
export const tieOf = (at: Place, reach: number): SpotIn => ({
  at,
  reach,
  only: ["corner", "vertex"],
  level: "",
  grid: "",
  room: "",
});

/** The direction of a dimension, degrees: across or up by where its line stands, or along its references. */
export function directionOf(way: Options["way"], refs: Place[], line: Place): number {
  if (way === "across") return 0;
  if (way === "up") return 90;
  const us = refs.map((p) => p[0]);
  const vs = refs.map((p) => p[1]);
  const [wide, high] = [Math.max(...us) - Math.min(...us), Math.max(...vs) - Math.min(...vs)];
  if (way === "aligned") {
    const [a, b] = [refs[0] as Place, refs.at(-1) as Place];
    return (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI;
  }
  if (wide < high * 0.01) return 90;
  if (high < wide * 0.01) return 0;
  const beside = Math.max(Math.min(...us) - line[0], line[0] - Math.max(...us), 0);
  const over = Math.max(Math.min(...vs) - line[1], line[1] - Math.max(...vs), 0);
  return beside > over ? 90 : 0;
}

/** A point moved onto the level or upright line, or the line at 45°, through another one. */
export function straight(from: Place, to: Place): Place {
  const [du, dv] = [to[0] - from[0], to[1] - from[1]];
  const turn = Math.round(Math.atan2(dv, du) / (Math.PI / 4)) * (Math.PI / 4);
  const far = du * Math.cos(turn) + dv * Math.sin(turn);
  return [from[0] + far * Math.cos(turn), from[1] + far * Math.sin(turn)];
}
