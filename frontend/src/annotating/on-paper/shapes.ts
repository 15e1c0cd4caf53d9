import type { Annotation } from "../../api/client";
import { type Camera, type Spot, toScreen } from "../../drawing/camera";
import { letter } from "../../drawing/canvas/lettering";

const HAIR = 0.9; // pixels
const PALEST = 0.22; // opacity below which a line would be lost
const PAPER = "#ffffff"; // fills of this colour are paper, and take the film's colour on screen
const LEAST_TEXT = 2.5; // pixels: smaller lettering is only noise

type Drawn = { path: Path2D; width: number | null; colour: string; fill: string | null };

/** An annotation ready to be painted: paths in mm on paper. */
export type Shape = { of: Annotation; drawn: Drawn[] };
const known = new WeakMap<Annotation, Shape>();

export function shapeOf(of: Annotation): Shape {
  const found = known.get(of);
  if (found) return found;
  const drawn = of.paths.map((p) => {
    const path = new Path2D();
    for (const run of p.runs) {
      for (const [k, [x, y]] of run.entries()) {
        if (k === 0) path.moveTo(x, y);
        else path.lineTo(x, y);
      }
      if (p.closed) path.closePath();
    }
    return { path, width: p.width, colour: p.colour ?? "#000000", fill: p.fill };
  });
  const shape = { of, drawn };
  known.set(of, shape);
  return shape;
}

const pictures = new Map<string, HTMLImageElement>();

function pictureOf(name: string, onReady: () => void): HTMLImageElement | null {
  const found = pictures.get(name);
  if (found) return found.complete && found.naturalWidth > 0 ? found : null;
  const image = new Image();
  image.onload = onReady;
  image.src = `/api/pictures/${name}`;
  pictures.set(name, image);
  return null;
}

export type Moved = (of: Annotation) => Spot | undefined;

/** Paint annotations on a canvas of their own; `moved`: by how much each is dragged, mm on paper. */
export function paintShapes(
  canvas: HTMLCanvasElement,
  shapes: Shape[],
  camera: Camera,
  moved: Moved,
  legible: number,
  onReady: () => void,
) {
  const ratio = window.devicePixelRatio || 1;
  const [width, height] = [Math.round(canvas.clientWidth * ratio), Math.round(canvas.clientHeight * ratio)];
  if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
  const context = canvas.getContext("2d");
  if (!context) return;
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.clearRect(0, 0, width, height);
  const film = getComputedStyle(canvas).getPropertyValue("--film");
  const k = camera.zoom * ratio;
  const turn = camera.turn ?? 0;
  context.lineCap = "round";
  context.lineJoin = "round";
  const onScreen = (box: Annotation["box"], by: Spot) => {
    const corners = [0, 2].flatMap((i) =>
      [1, 3].map((j) => toScreen(camera, { x: (box[i] as number) + by.x, y: (box[j] as number) + by.y })),
    );
    const [xs, ys] = [corners.map((c) => c.x), corners.map((c) => c.y)];
    return (
      Math.max(...xs) > -20 &&
      Math.min(...xs) < canvas.clientWidth + 20 &&
      Math.max(...ys) > -20 &&
      Math.min(...ys) < canvas.clientHeight + 20
    );
  };
  for (const { of, drawn } of shapes) {
    const by = moved(of) ?? { x: 0, y: 0 };
    if (!onScreen(of.box, by)) continue;
    const shown = of.shown ? 1 : 0.35;
    context.setTransform(k, 0, 0, -k, -camera.left * k, camera.top * k);
    context.rotate(turn);
    context.translate(by.x, by.y);
    for (const image of of.images) {
      const ready = pictureOf(image.name, onReady);
      if (!ready) continue;
      const [left, base, right, top] = image.box as [number, number, number, number];
      context.save();
      context.globalAlpha = (1 - image.fade) * shown;
      context.scale(1, -1);
      context.drawImage(ready, left, -top, right - left, top - base);
      context.restore();
    }
    for (const { path, width: pen, colour, fill } of drawn) {
      context.globalAlpha = shown;
      if (fill) {
        context.fillStyle = fill === PAPER ? film : fill;
        context.fill(path, "evenodd");
      }
      if (pen !== null) {
        context.strokeStyle = colour === PAPER ? film : colour;
        context.globalAlpha = shown * Math.min(1, Math.max(PALEST, (pen * camera.zoom) / HAIR));
        context.lineWidth = Math.max(pen, HAIR / camera.zoom);
        context.stroke(path);
      }
    }
    context.globalAlpha = shown;
    for (const text of of.texts) {
      const size = Math.max(text.size, legible / camera.zoom);
      if (size * camera.zoom < LEAST_TEXT) continue;
      const at = toScreen(camera, { x: text.x + by.x, y: text.y + by.y });
      context.setTransform(k, 0, 0, k, at.x * ratio, at.y * ratio);
      context.rotate((-text.angle * Math.PI) / 180 - turn);
      context.fillStyle = text.colour;
      letter(context, text, size);
    }
  }
}

/** The annotation at a place on paper, the smallest of those within `reach` mm; texts count whole. */
export function shapeAt(shapes: Shape[], at: Spot, reach: number): Annotation | undefined {
  const hits = shapes.filter(({ of }) => {
    const [left, base, right, top] = of.box as [number, number, number, number];
    if (at.x < left - reach || at.x > right + reach || at.y < base - reach || at.y > top + reach)
      return false;
    return onText(of, at, reach) || onLine(of, at, reach) || onPicture(of, at);
  });
  const size = ({ of }: Shape) =>
    ((of.box[2] as number) - (of.box[0] as number)) * ((of.box[3] as number) - (of.box[1] as number));
  return hits.sort((a, b) => size(a) - size(b))[0]?.of;
}

function onText(of: Annotation, at: Spot, reach: number): boolean {
  return of.texts.some((t) => {
    const turn = (t.angle * Math.PI) / 180;
    const [dx, dy] = [at.x - t.x, at.y - t.y];
    const along = dx * Math.cos(turn) + dy * Math.sin(turn);
    const up = -dx * Math.sin(turn) + dy * Math.cos(turn);
    const wide = t.text.length * t.size * 0.5;
    const start = t.align === "left" ? 0 : t.align === "right" ? -wide : -wide / 2;
    return along > start - reach && along < start + wide + reach && up > -t.size * 0.3 && up < t.size;
  });
}

function onLine(of: Annotation, at: Spot, reach: number): boolean {
  return of.paths.some((p) =>
    p.runs.some((run) =>
      run.some(([x1, y1], k) => {
        const before = run[k - 1] ?? (p.closed ? run.at(-1) : undefined);
        return before ? offSegment(at, before, [x1, y1]) <= reach : false;
      }),
    ),
  );
}

function onPicture(of: Annotation, at: Spot): boolean {
  return of.images.some(({ box }) => {
    const [left, base, right, top] = box as [number, number, number, number];
    return at.x > left && at.x < right && at.y > base && at.y < top;
  });
}

function offSegment(at: Spot, [x0, y0]: [number, number], [x1, y1]: [number, number]): number {
  const [dx, dy] = [x1 - x0, y1 - y0];
  const size = dx * dx + dy * dy || 1;
  const share = Math.min(1, Math.max(0, ((at.x - x0) * dx + (at.y - y0) * dy) / size));
  return Math.hypot(x0 + share * dx - at.x, y0 + share * dy - at.y);
}

/** Those in a box on paper: whole, or also those that it touches. */
export function shapesIn(shapes: Shape[], a: Spot, b: Spot, whole: boolean): number[] {
  const [left, right] = [Math.min(a.x, b.x), Math.max(a.x, b.x)];
  const [base, top] = [Math.min(a.y, b.y), Math.max(a.y, b.y)];
  return shapes
    .filter(({ of }) => {
      const [l, u, r, o] = of.box as [number, number, number, number];
      if (whole) return l >= left && r <= right && u >= base && o <= top;
      return r >= left && l <= right && o >= base && u <= top;
    })
    .map(({ of }) => of.id);
}
