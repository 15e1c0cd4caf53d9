import { dot, type Opening, type Taking, type V3 } from "../opening/opening";
import type { SolidElement } from "./solid-form";
import type { LoadedPart } from "./use-solid";

export type Left = "whole" | "crossed" | "gone";

const boxes = new WeakMap<LoadedPart, Float64Array>();

/** The boxes of a part's elements, metres: low and high, six numbers each. */
function boxesOf(part: LoadedPart): Float64Array {
  let found = boxes.get(part);
  if (!found) {
    found = new Float64Array(part.elements.length * 6);
    part.elements.forEach(({ triangles: [start, count] }, k) => {
      const low = [65536, 65536, 65536];
      const high = [-1, -1, -1];
      for (let i = start * 3; i < (start + count) * 3; i++) {
        const at = (part.triangles[i] as number) * 3;
        for (let c = 0; c < 3; c++) {
          const x = part.positions[at + c] as number;
          if (x < (low[c] as number)) low[c] = x;
          if (x > (high[c] as number)) high[c] = x;
        }
      }
      for (let c = 0; c < 3; c++) {
        const [from, step] = [part.low[c] as number, part.step[c] as number];
        (found as Float64Array)[k * 6 + c] = from + (low[c] as number) * step;
        (found as Float64Array)[k * 6 + 3 + c] = from + (high[c] as number) * step;
      }
    });
    boxes.set(part, found);
  }
  return found;
}

/** The box of one element, metres. */
export function boxOf(part: LoadedPart, element: SolidElement): [low: V3, high: V3] {
  const at = part.elements.indexOf(element) * 6;
  const all = boxesOf(part);
  return [Array.from(all.subarray(at, at + 3)) as V3, Array.from(all.subarray(at + 3, at + 6)) as V3];
}

/** What an opening leaves of each element of a part, by its box: all of it, nothing, or perhaps a part. */
export function leftOf(part: LoadedPart, opening: Opening): Left[] {
  const all = boxesOf(part);
  return part.elements.map((_, k) => {
    if (opening.length === 0) return "whole";
    const box = all.subarray(k * 6, k * 6 + 6);
    const ways = opening.map((cut) => cut.map((leaf) => wayOf(box, leaf)));
    if (ways.some((cut) => cut.some((way) => way === "far"))) return "gone";
    if (ways.every((cut) => cut.some((way) => way === "before"))) return "gone";
    if (ways.some((cut) => cut.every((way) => way === "behind" || way === "beside"))) return "whole";
    return "crossed";
  });
}

type Way = "before" | "behind" | "beside" | "far" | "through";

function wayOf(box: Float64Array, { origin, u, w, left, right, far }: Taking): Way {
  const [along, across] = [spread(box, origin, u), spread(box, origin, w)];
  if (along[1] < left || along[0] > right) return "beside";
  const within = along[0] >= left && along[1] <= right;
  if (within && across[1] < 0) return "before";
  if (within && across[0] > far) return "far";
  return across[0] >= 0 && across[1] <= far ? "behind" : "through";
}

/** How far a box goes along a direction. */
function spread(box: Float64Array, origin: V3, way: V3): [low: number, high: number] {
  let [low, high] = [0, 0];
  for (let c = 0; c < 3; c++) {
    const [a, b] = [(box[c] as number) * (way[c] as number), (box[c + 3] as number) * (way[c] as number)];
    low += Math.min(a, b);
    high += Math.max(a, b);
  }
  const from = dot(origin, way);
  return [low - from, high - from];
}
