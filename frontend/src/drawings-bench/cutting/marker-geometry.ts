import type { Marker, SectionCut, Settings } from "../../api/client";
import type { Place } from "../../desk/mode";
import { between, clippedTo, directions, distance, shifted } from "./plan-geometry";

/** A marker while the line of its section is dragged: what of it shows in the drawing, whose window is in mm of paper.
 * Where its heads stand clear of others is told when it is dropped. */
export function dragged(
  marker: Marker,
  cut: SectionCut,
  window: number[] | undefined,
  scale: number,
): Marker {
  const look = cut.look ?? "left";
  const line = cut.line as Place[];
  if (look === marker.look && String(line) === String(marker.line)) return marker;
  const within = window
    ? clippedTo(
        window.map((x) => (x * scale) / 1000),
        line,
      )
    : line;
  const pieces = within.length > 1 ? [{ line: within, ends: [true, true], aside: [0, 0] }] : [];
  return { ...marker, line, look, pieces: pieces as Marker["pieces"] };
}

/** A stretch of a cutting line as it is drawn: all of it, what of it is heavy at its ends, and its heads; metres. The core
 * lays lines out alike; while one is dragged, its answer would come late. */
export function laid(piece: Marker["pieces"][number], marker: Marker, form: Settings["marker"], mm: number) {
  const points = piece.line as Place[];
  const own = marker.style?.shift ?? [0, 0];
  const whole = [...points];
  const heavy: Place[][] = [];
  const heads: ({ name: string; at: Place } & ReturnType<typeof directions>)[] = [];
  for (const [k, name] of ["first", "last"].entries()) {
    if (!piece.ends[k]) continue;
    const ways = directions(k === 0 ? points.slice(0, 2) : points.slice(-2), marker.look);
    const out = k === 0 ? -1 : 1;
    const shift = own[k] || (piece.aside[k] ?? 0);
    const tip = shifted(
      (k === 0 ? points[0] : points.at(-1)) as Place,
      ways.along,
      out * (form.overhang + shift) * mm,
    );
    whole[k === 0 ? 0 : whole.length - 1] = tip;
    heavy.push([tip, shifted(tip, ways.along, -out * form.overhang * mm)]);
    if (marker.style?.heads === "both" || marker.style?.heads === name)
      heads.push({
        name: `${name} ${points[0]}`,
        at: shifted(tip, ways.along, out * form.radius * mm),
        ...ways,
      });
  }
  return { whole, heavy, heads };
}

/** The heavy parts of a line about its corners, so many metres long. */
export const corners = (whole: Place[], reach: number): Place[][] =>
  whole.slice(1, -1).map((p, k) => {
    const [before, after] = [whole[k] as Place, whole[k + 2] as Place];
    return [towards(p, before, reach), p, towards(p, after, reach)];
  });

/** The point so many metres from p on its way to q, at most half of the way. */
const towards = (p: Place, q: Place, reach: number): Place => {
  const share = Math.min(0.5, reach / (distance(p, q) || 1));
  return between(p, q, share);
};
