import type { LayersCorrection } from "../api/client";

export type Layer = LayersCorrection["layers"][number];

/** Layers with one of them otherwise. */
export const changed = (layers: readonly Layer[], at: number, change: Partial<Layer>): Layer[] =>
  layers.map((layer, k) => (k === at ? { ...layer, ...change } : layer));

/** Layers with one moved by a place. */
export function moved(layers: readonly Layer[], at: number, by: -1 | 1): Layer[] {
  const to = at + by;
  if (to < 0 || to >= layers.length) return [...layers];
  const found = [...layers];
  const [one] = found.splice(at, 1);
  if (one) found.splice(to, 0, one);
  return found;
}

/** How thick all are together, metres. */
export const thick = (layers: readonly Layer[]): number =>
  layers.reduce((sum, layer) => sum + layer.thickness, 0);

/** Whether two build-ups are the same. */
export const alike = (a: readonly Layer[], b: readonly Layer[]): boolean =>
  a.length === b.length &&
  a.every((layer, k) => {
    const other = b[k];
    return other?.material === layer.material && Math.abs(other.thickness - layer.thickness) < 1e-6;
  });
