import { create } from "zustand";
import type { Plane } from "../api/client";
import type { Place } from "../desk/mode";

/** An outline that was drawn to become a body: metres in its drawing, where that lies in the model, whether it was
 * drawn on a plan, and whether a run shall go along its points. */
export type Drawn = {
  project: number;
  drawing: number;
  outline: Place[];
  plane: Plane;
  onPlan: boolean;
  along: boolean;
};

/** The outline that was closed last; its form stands in the particulars. */
export const useDrawn = create<{ drawn: Drawn | null }>(() => ({ drawn: null }));

/** The point at a length from another one, towards where the pointer is. */
export function atLength(from: Place, pointer: Place, length: number): Place {
  const far = Math.hypot(pointer[0] - from[0], pointer[1] - from[1]);
  if (far < 1e-9) return [from[0] + length, from[1]];
  return [
    from[0] + ((pointer[0] - from[0]) * length) / far,
    from[1] + ((pointer[1] - from[1]) * length) / far,
  ];
}

/** The points of a drawing as points of the model, so far above its plane on a plan; each as much lower as it lies
 * further along, by a fall in percent. */
export function pathOf(
  { outline, plane, onPlan }: Drawn,
  above: number,
  fall: number,
): [number, number, number][] {
  const { at, x, y } = plane;
  let along = 0;
  return outline.map(([u, v], k) => {
    const [a, b] = outline[k - 1] ?? [u, v];
    along += Math.hypot(u - a, v - b);
    const up = (onPlan ? above : 0) - (along * fall) / 100;
    return [0, 1, 2].map((n) => (at[n] ?? 0) + u * (x[n] ?? 0) + v * (y[n] ?? 0) + (n === 2 ? up : 0)) as [
      number,
      number,
      number,
    ];
  });
}
