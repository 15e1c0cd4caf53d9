import type { Frame } from "./screen-form";

/** Paper point (x, y) mm stands at screen ((x - left) * zoom, (top - y) * zoom); zoom in pixels per mm. */
export type Camera = { left: number; top: number; zoom: number };
export type Spot = { x: number; y: number };

export const toScreen = (camera: Camera, p: Spot): Spot => ({
  x: (p.x - camera.left) * camera.zoom,
  y: (camera.top - p.y) * camera.zoom,
});

export const toPaper = (camera: Camera, p: Spot): Spot => ({
  x: camera.left + p.x / camera.zoom,
  y: camera.top - p.y / camera.zoom,
});

export function fit(frame: Frame, width: number, height: number, margin = 10): Camera {
  const [left, base, right, top] = frame;
  const zoom = Math.min(
    Math.max(10, width - 2 * margin) / Math.max(1, right - left),
    Math.max(10, height - 2 * margin) / Math.max(1, top - base),
  );
  return {
    zoom,
    left: (left + right) / 2 - width / 2 / zoom,
    top: (top + base) / 2 + height / 2 / zoom,
  };
}

/** Zoom by a factor with the paper under a screen point held still. */
export function zoomAt(camera: Camera, at: Spot, factor: number): Camera {
  const zoom = Math.min(400, Math.max(0.05, camera.zoom * factor));
  const held = toPaper(camera, at);
  return { zoom, left: held.x - at.x / zoom, top: held.y + at.y / zoom };
}
