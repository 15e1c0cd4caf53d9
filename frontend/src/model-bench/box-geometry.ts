import type { ExtentsBox } from "../api/client";
import type { V3 } from "./opening";

/** The sides of a box of shared extents, four corners each. */
export function boxSides({ low, high, turn = 0 }: ExtentsBox): V3[][] {
  const a = (turn * Math.PI) / 180;
  const [c, s] = [Math.cos(a), Math.sin(a)];
  const at = (x: number, y: number, z: number): V3 => [x * c - y * s, x * s + y * c, z];
  const ring = (z: number): V3[] => [
    at(low[0], low[1], z),
    at(high[0], low[1], z),
    at(high[0], high[1], z),
    at(low[0], high[1], z),
  ];
  const [base, top] = [ring(low[2]), ring(high[2])];
  const upright = [0, 1, 2, 3].map((k): V3[] => {
    const next = (k + 1) % 4;
    return [base[k] as V3, base[next] as V3, top[next] as V3, top[k] as V3];
  });
  return [base, top, ...upright];
}
