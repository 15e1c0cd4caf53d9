import { type Folds, folded, unfolded } from "./folds";
import type { Frame } from "./screen-form";

/** The paper, turned by `turn` (radians, against the clock) about its origin, is seen from `left`, `top` (mm) on, at
 * `zoom` pixels per mm. With `folds`, points are those of a drawing before it is broken. */
export type Camera = { left: number; top: number; zoom: number; turn?: number; folds?: Folds };
export type Spot = { x: number; y: number };

/** A point or a direction of the paper as the camera's turn has it. */
export function turnedBy(turn: number | undefined, p: Spot): Spot {
  if (!turn) return p;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  return { x: p.x * c - p.y * s, y: p.x * s + p.y * c };
}

export const toScreen = (camera: Camera, p: Spot): Spot => {
  const q = turnedBy(camera.turn, camera.folds ? folded(camera.folds, p) : p);
  return { x: (q.x - camera.left) * camera.zoom, y: (camera.top - q.y) * camera.zoom };
};

export const toPaper = (camera: Camera, p: Spot): Spot => {
  const paper = turnedBy(-(camera.turn ?? 0), {
    x: camera.left + p.x / camera.zoom,
    y: camera.top - p.y / camera.zoom,
  });
  return camera.folds ? unfolded(camera.folds, paper) : paper;
};

/** The box that holds a turned box. */
export function turnedBox([left, base, right, top]: Frame, turn = 0): Frame {
  const corners = [
    { x: left, y: base },
    { x: right, y: base },
    { x: right, y: top },
    { x: left, y: top },
  ].map((p) => turnedBy(turn, p));
  const [xs, ys] = [corners.map((p) => p.x), corners.map((p) => p.y)];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

export function fit(frame: Frame, width: number, height: number, turn = 0, margin = 10): Camera {
  const [left, base, right, top] = turnedBox(frame, turn);
  const zoom = Math.min(
    Math.max(10, width - 2 * margin) / Math.max(1, right - left),
    Math.max(10, height - 2 * margin) / Math.max(1, top - base),
  );
  return {
    zoom,
    left: (left + right) / 2 - width / 2 / zoom,
    top: (top + base) / 2 + height / 2 / zoom,
    turn,
  };
}

/** A canvas in its window, pixels. */
export type Place = { left: number; top: number; width: number; height: number };

/** With what lay in the middle of a canvas still in its middle after it was made larger or smaller. */
export const centredAgain = (camera: Camera, from: Place, to: Place): Camera => ({
  ...camera,
  left: camera.left + (from.width - to.width) / 2 / camera.zoom,
  top: camera.top - (from.height - to.height) / 2 / camera.zoom,
});

/** With the paper still where it was in the window after the edges of its canvas were moved. */
export const heldStill = (camera: Camera, from: Place, to: Place): Camera => ({
  ...camera,
  left: camera.left + (to.left - from.left) / camera.zoom,
  top: camera.top - (to.top - from.top) / camera.zoom,
});

const LEAST_ZOOM = 0.05;
const MOST_ZOOM = 400;

/** Zoom by a factor with the paper under a screen point held still. */
export function zoomAt(camera: Camera, at: Spot, factor: number): Camera {
  const zoom = Math.min(MOST_ZOOM, Math.max(LEAST_ZOOM, camera.zoom * factor));
  const gain = 1 / camera.zoom - 1 / zoom;
  return { ...camera, zoom, left: camera.left + at.x * gain, top: camera.top - at.y * gain };
}

/** Moved by so many pixels. */
export const panned = (camera: Camera, dx: number, dy: number): Camera => ({
  ...camera,
  left: camera.left - dx / camera.zoom,
  top: camera.top + dy / camera.zoom,
});
