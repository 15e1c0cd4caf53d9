import { type Camera, toScreen } from "../camera";
import type { View } from "../screen-form";
import { letter } from "./lettering";

const HAIR = 0.9; // pixels
const PAPER = "#ffffff"; // fills of this colour are paper, and take the film's colour on screen
const GHOST = "#7a4fa3"; // what is hidden, while somebody decides
const PALEST = 0.22; // opacity below which a line would be lost
const LEAST_TEXT = 2.5; // pixels: smaller lettering is only noise

/** `legible`: lettering is no smaller on screen than can be read, whatever it is on paper. */
export type Extras = { onDesk?: boolean; ghost?: View | null; legible?: boolean };
const LEGIBLE = 12; // pixels

/** Paint a view on a canvas; sizes in CSS pixels. */
export function paint(
  canvas: HTMLCanvasElement,
  view: View,
  camera: Camera,
  { onDesk = false, ghost, legible = false }: Extras = {},
) {
  const ratio = window.devicePixelRatio || 1;
  const width = canvas.clientWidth;
  const height = canvas.clientHeight;
  if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio)) {
    canvas.width = Math.round(width * ratio);
    canvas.height = Math.round(height * ratio);
  }
  const context = canvas.getContext("2d");
  if (!context) return;
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.clearRect(0, 0, canvas.width, canvas.height);
  const k = camera.zoom * ratio;
  const turn = camera.turn ?? 0;
  context.setTransform(k, 0, 0, -k, -camera.left * k, camera.top * k);
  context.rotate(turn);
  const film = getComputedStyle(canvas).getPropertyValue("--film");
  if (onDesk) {
    const [left, base, right, top] = view.frame;
    context.fillStyle = film;
    context.fillRect(left, base, right - left, top - base);
  }
  context.lineCap = "round";
  context.lineJoin = "round";
  if (ghost) {
    context.strokeStyle = GHOST;
    context.lineWidth = HAIR / camera.zoom;
    context.globalAlpha = 0.4;
    for (const item of ghost.items) if (item.pen && item.role !== "hatch") context.stroke(item.path);
  }
  for (const item of view.items) {
    context.globalAlpha = 1;
    if (item.fill) {
      context.fillStyle = item.fill === PAPER ? film : item.fill;
      context.fill(item.path, "evenodd");
    }
    if (item.pen) {
      context.strokeStyle = item.pen.colour;
      // a pen thinner than a hair is drawn as a hair, and paler by as much
      const weight = (item.pen.width * camera.zoom) / HAIR;
      context.globalAlpha = Math.min(1, Math.max(PALEST, weight));
      context.lineWidth = Math.max(item.pen.width, HAIR / camera.zoom);
      context.setLineDash(item.pen.dash);
      context.stroke(item.path);
    }
  }
  context.setLineDash([]);
  context.globalAlpha = 1;
  const middles = legible ? middlesOf(view) : NO_MIDDLES;
  for (const label of view.labels) {
    const size = legible ? Math.max(label.size, LEGIBLE / camera.zoom) : label.size;
    if (size * camera.zoom < LEAST_TEXT) continue;
    // lines of one label keep their order about its middle
    const about = legible && label.source ? (middles.get(label.source) ?? label) : label;
    const grown = size / label.size;
    const at = toScreen(camera, {
      x: about.x + (label.x - about.x) * (about === label ? 1 : grown),
      y: about.y + (label.y - about.y) * grown,
    });
    context.setTransform(k, 0, 0, k, at.x * ratio, at.y * ratio);
    context.rotate((-label.angle * Math.PI) / 180 - turn);
    context.fillStyle = label.colour;
    letter(context, label, size);
  }
}

type Middle = { x: number; y: number };
const NO_MIDDLES = new Map<string, Middle>();
type Middles = Map<string, Middle>;
const known = new WeakMap<View, Middles>();

/** The middle of the texts that stand for the same thing. */
function middlesOf(view: View): Middles {
  const found = known.get(view);
  if (found) return found;
  const sums = new Map<string, Middle & { n: number }>();
  for (const { source, x, y } of view.labels) {
    const sum = sums.get(source) ?? { x: 0, y: 0, n: 0 };
    sums.set(source, { x: sum.x + x, y: sum.y + y, n: sum.n + 1 });
  }
  const middles = new Map([...sums].map(([source, { x, y, n }]) => [source, { x: x / n, y: y / n }]));
  known.set(view, middles);
  return middles;
}
