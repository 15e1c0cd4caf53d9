import type { Settling, Unsettled } from "../api/client";

export type Together = { key: string; moved: [number, number, number]; of: Unsettled[] };

/** Of what is near, what moved with the model by one and the same: the most first. Two or more are many. */
export function movedTogether(unsettled: Unsettled[]): Together[] {
  const found = new Map<string, Together>();
  for (const one of unsettled) {
    if (one.state !== "near" || !one.moved) continue;
    const key = one.moved.join();
    const known = found.get(key) ?? { key, moved: one.moved as Together["moved"], of: [] };
    found.set(key, known);
    known.of.push(one);
  }
  return [...found.values()].filter((t) => t.of.length > 1).sort((a, b) => b.of.length - a.of.length);
}

/** The drawing in which most of some are, and the box around them there (left, base, right, top), if they have any. */
export function whereMost(of: Unsettled[]): {
  drawing: number;
  box: [number, number, number, number] | null;
} {
  const by = new Map<number, Unsettled[]>();
  for (const one of of) by.set(one.drawing_id, [...(by.get(one.drawing_id) ?? []), one]);
  const [drawing, there] = [...by].reduce((a, b) => (b[1].length > a[1].length ? b : a));
  const boxes = there.flatMap((one) => (one.box ? [one.box] : []));
  if (boxes.length === 0) return { drawing, box: null };
  const side = (k: number, pick: (...values: number[]) => number) =>
    pick(...boxes.map((b) => b[k] as number));
  return { drawing, box: [side(0, Math.min), side(1, Math.min), side(2, Math.max), side(3, Math.max)] };
}

/** What accepts them all, as one act. */
export function accepting(of: Unsettled[], how: Settling["how"] = "accept"): Settling {
  const ids = (what: Unsettled["what"]) => of.filter((one) => one.what === what).map((one) => one.id);
  return { annotations: ids("annotation"), touch_ups: ids("touch-up"), callouts: ids("callout"), how };
}
