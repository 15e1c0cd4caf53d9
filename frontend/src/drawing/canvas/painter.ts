import type { Camera } from "../camera";
import type { View } from "../screen-form";
import { timed } from "../timed";
import { type Extras, paint } from "./paint";

const HEAVY = 20_000; // points; a view with fewer of them is painted anew for every frame
const REST = 80; // ms without a move until a heavy view is painted anew
const LONGEST = 300; // ms that a heavy view is shown as a moved picture
const sizes = new WeakMap<View, number>();

/** Paints a canvas. A heavy view that is only panned or zoomed is moved as a picture, and painted anew when it comes to
 * rest, or after a moment on its way. */
export class Painter {
  private picture: HTMLCanvasElement | null = null;
  private shown: { view: View; ghost: View | null | undefined; key: string; camera: Camera } | null = null;
  private painted = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly canvas: HTMLCanvasElement) {}

  show(view: View, camera: Camera, extras: Extras) {
    clearTimeout(this.timer);
    const { clientWidth, clientHeight } = this.canvas;
    const key = `${clientWidth} ${clientHeight} ${extras.onDesk} ${extras.legible} ${camera.turn ?? 0}`;
    const same = this.shown;
    const moved = same && same.view === view && same.ghost === extras.ghost && same.key === key;
    if (moved && this.picture && performance.now() - this.painted < LONGEST) {
      this.move(same.camera, camera);
      this.timer = setTimeout(() => this.paint(view, camera, extras, key), REST);
    } else this.paint(view, camera, extras, key);
  }

  stop() {
    clearTimeout(this.timer);
  }

  private paint(view: View, camera: Camera, extras: Extras, key: string) {
    timed("paint", () => paint(this.canvas, view, camera, extras));
    this.painted = performance.now();
    this.shown = { view, ghost: extras.ghost, key, camera };
    this.picture = pointsOf(view) > HEAVY ? copyOf(this.canvas, this.picture) : null;
  }

  private move(from: Camera, to: Camera) {
    const context = this.canvas.getContext("2d");
    if (!context || !this.picture) return;
    const ratio = window.devicePixelRatio || 1;
    const scale = to.zoom / from.zoom;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.clearRect(0, 0, this.canvas.width, this.canvas.height);
    context.setTransform(
      scale,
      0,
      0,
      scale,
      (from.left - to.left) * to.zoom * ratio,
      (to.top - from.top) * to.zoom * ratio,
    );
    context.globalAlpha = 1;
    context.drawImage(this.picture, 0, 0);
  }
}

function copyOf(canvas: HTMLCanvasElement, into: HTMLCanvasElement | null): HTMLCanvasElement {
  const copy = into ?? document.createElement("canvas");
  copy.width = canvas.width; // empties it too
  copy.height = canvas.height;
  copy.getContext("2d")?.drawImage(canvas, 0, 0);
  return copy;
}

function pointsOf(view: View): number {
  const known = sizes.get(view);
  if (known !== undefined) return known;
  const points = view.items.reduce((sum, item) => sum + item.points.length / 2, 0);
  sizes.set(view, points);
  return points;
}
