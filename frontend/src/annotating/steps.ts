import type { SpotIn } from "../api/client";
import type { Options } from "./state";
import type { Pick, Place, Tool } from "./tools";

/** What a tool waits for: how many references, whether a place after them; `lines` end with Enter or a double-click. */
type Steps = { refs: number; many?: boolean; place?: boolean; lines?: number; next: string[] };

export const STEPS: Record<Tool, Steps> = {
  note: { refs: 1, place: true, next: ["Click what the note is about.", "Click where its words stand."] },
  "layer note": {
    refs: 1,
    place: true,
    next: ["Click within a build-up that is cut.", "Click where the layers are named."],
  },
  label: {
    refs: 1,
    place: true,
    next: ["Click a room, or an element that is cut.", "Click where the label stands."],
  },
  dimension: {
    refs: 2,
    many: true,
    place: true,
    next: [
      "Click corners, ends, sides, levels or grid lines.",
      "Click more of them, or a free place for the dimension line.",
    ],
  },
  running: {
    refs: 2,
    many: true,
    place: true,
    next: [
      "Click where distances are measured from.",
      "Click more references, or a free place for the dimension line.",
    ],
  },
  angle: {
    refs: 3,
    place: true,
    next: [
      "Click the corner of the angle.",
      "Click a point on one leg.",
      "Click a point on the other leg.",
      "Click where the arc runs.",
    ],
  },
  radius: {
    refs: 3,
    place: true,
    next: [
      "Click three points of the curve.",
      "Click the second point.",
      "Click the third point.",
      "Click where the radius is written.",
    ],
  },
  slope: {
    refs: 2,
    place: true,
    next: ["Click one end of the slope.", "Click its other end.", "Click where it is written."],
  },
  "spot level": { refs: 1, place: true, next: ["Click what the level is of.", "Click where it is written."] },
  line: {
    refs: 0,
    lines: 2,
    next: [
      "Click where the line begins.",
      "Click on; Enter or a double-click ends it. A length can be typed.",
    ],
  },
  area: {
    refs: 0,
    lines: 3,
    next: ["Click a corner of the area.", "Click its corners; Enter or a double-click closes it."],
  },
  symbol: { refs: 0, place: true, next: ["Click where the symbol stands."] },
  picture: {
    refs: 0,
    place: true,
    next: ["Choose a picture, then click where its lower left corner stands."],
  },
  hide: {
    refs: 0,
    next: ["Click a line, or drag a window over several: they are hidden. Alt-click hides a cut face."],
  },
  restyle: { refs: 0, next: ["Click a line, or drag a window over several: they are drawn in this pen."] },
  "cut back": { refs: 0, next: ["Click on a line where the part that goes begins.", "Click where it ends."] },
  mask: {
    refs: 0,
    lines: 3,
    next: ["Click a corner of what is covered.", "Click its corners; Enter or a double-click closes it."],
  },
  hatch: { refs: 0, next: ["Click within a cut face, or drag a window over several: they get this hatch."] },
};

/** Tools that take a window. */
export const WINDOWED: Tool[] = ["hide", "restyle", "hatch"];
const FIXED = { rectangle: 2, arc: 3, cloud: 2 } as const;

/** After how many points a line or area is complete; undefined where Enter ends it. */
export function pointsOf(tool: Tool, form: Options["form"]): number | undefined {
  if (tool === "line" && form in FIXED) return FIXED[form as keyof typeof FIXED];
  return tool === "area" && form === "rectangle" ? 2 : undefined;
}

export function hintFor(tool: Tool, picks: number): string {
  const { next } = STEPS[tool];
  return `${next[Math.min(picks, next.length - 1)]} Esc ${picks > 0 ? "steps back" : "leaves"}.`;
}

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
