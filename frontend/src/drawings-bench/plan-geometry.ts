import type { Extents, SectionCut } from "../api/client";
import type { Spot } from "../drawing/camera";
import type { Look, Place } from "./bench-state";

/** Plans have the model's axes: a model point (metres) and its place on paper (mm) at the plan's scale. */
export const onPaper = ([x, y]: Place, scale: number): Spot => ({
  x: (x * 1000) / scale,
  y: (y * 1000) / scale,
});
export const onModel = (p: Spot, scale: number): Place => [(p.x * scale) / 1000, (p.y * scale) / 1000];

/** Every side as far as the cutting line or the building goes. */
export const OPEN_EXTENTS: Extents = { left: null, right: null, base: null, top: null };

const tidy = (value: number) => Math.round(value * 1000) / 1000;
export const rounded = ([x, y]: Place): Place => [tidy(x), tidy(y)];
export const distance = (a: Place, b: Place) => Math.hypot(b[0] - a[0], b[1] - a[1]);

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

/** Unit vectors along the line and to the side that is looked at. */
export function directions(line: SectionCut["line"], look: Look): { along: Place; look: Place } {
  const [a, b] = line as [Place, Place];
  const length = distance(a, b) || 1;
  const along: Place = [(b[0] - a[0]) / length, (b[1] - a[1]) / length];
  const sign = look === "left" ? 1 : -1;
  return { along, look: [-along[1] * sign, along[0] * sign] };
}

export const shifted = ([x, y]: Place, [dx, dy]: Place, by: number): Place => [x + dx * by, y + dy * by];
