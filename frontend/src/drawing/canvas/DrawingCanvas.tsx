import {
  type PointerEvent,
  type ReactNode,
  useEffect,
  useLayoutEffect,
  useMemo,
  useReducer,
  useRef,
  useState,
} from "react";
import { useLengths } from "../../fields/lengths";
import { onAxis, type SharedAxis, useAligned } from "../aligned";
import { type Camera, fit, type Place, panned, type Spot, toPaper, toScreen, zoomAt } from "../camera";
import { useLook } from "../look";
import type { Frame, View } from "../screen-form";
import { useCamera } from "../use-camera";
import { CanvasTools, useLegible } from "./CanvasTools";
import { onLettered } from "./lettering";
import { Painter } from "./painter";
import { useTouch } from "./use-touch";

const LETTERING = '4px "Edge Slice Lettering"';
const LOOK_MARGIN = 60; // pixels around what is looked at
const LEAST_BOX = 6; // pixels; less is a click

/** Pointer events of a canvas in paper millimetres. */
export type PaperPointer = { paper: Spot; shift: boolean; alt: boolean; zoom: number };
type Props = {
  name: string;
  /** What the camera belongs to: it is kept while the window is open. */
  cameraKey: string;
  view: View | null;
  onClick?: (pointer: PaperPointer) => void;
  onMove?: (pointer: PaperPointer) => void;
  onDoubleClick?: (pointer: PaperPointer) => void;
  /** A box was drawn with the left button from one corner to another. */
  onBox?: (from: Spot, to: Spot, shift: boolean) => void;
  /** What the drawing hides, shown faintly. */
  ghost?: View | null;
  cursor?: string;
  /** The axis that it shares with another pane. */
  shared?: SharedAxis;
  /** Show the drawing's frame as paper on a desk. */
  onDesk?: boolean;
  /** The paper that is shown when all is, where that is more than the view's. */
  page?: Frame;
  /** What is painted right over the drawing, and what stands over everything; no parts of the SVG between them. */
  layer?: (camera: Camera) => ReactNode;
  over?: (camera: Camera) => ReactNode;
  /** Interactive parts over the drawing, in screen pixels. */
  children?: (camera: Camera, size: { width: number; height: number }) => ReactNode;
};

/** How many faces have come: drawings are painted again whenever one arrives. */
function useLettered(): number {
  const [come, oneMore] = useReducer((count: number) => count + 1, 0);
  useEffect(() => {
    if (!document.fonts.check(LETTERING)) document.fonts.load(LETTERING).then(oneMore);
    return onLettered(oneMore);
  }, []);
  return come;
}

/** Film with a drawing on it: wheel zooms at the cursor, middle button or a held Space pans. */
export function DrawingCanvas(props: Props) {
  const { cameraKey, view, ghost, onDesk, shared } = props;
  const holder = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState<Place>({ left: 0, top: 0, width: 0, height: 0 });
  const page = props.page ?? view?.page;
  const [camera, keep] = useCamera(cameraKey, page, size, shared);
  const legible = useLegible((s) => s.legible);
  // what lies over a broken drawing is given as it was before
  const folds = view?.folds;
  const over = useMemo(() => (camera && folds ? { ...camera, folds } : camera), [camera, folds]);
  const latest = useRef({ camera, keep });
  latest.current = { camera, keep };
  const panning = useRef<{ at: Spot; camera: Camera } | null>(null);
  const space = useRef(false);
  const [box, setBox] = useState<{ from: Spot; to: Spot } | null>(null);
  const boxed = useRef(false);

  useLayoutEffect(() => {
    const element = holder.current;
    if (!element) return;
    const watcher = new ResizeObserver(() => {
      const { left, top } = element.getBoundingClientRect();
      setSize({ left, top, width: element.clientWidth, height: element.clientHeight });
    });
    watcher.observe(element);
    return () => watcher.disconnect();
  }, []);

  const painter = useRef<Painter | null>(null);
  const lettered = useLettered();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the font's arrival and another size are painted too
  useEffect(() => {
    if (!canvas.current || !view || !camera || size.width === 0) return;
    painter.current ??= new Painter(canvas.current);
    painter.current.show(view, camera, { onDesk, ghost, legible });
  }, [view, ghost, legible, camera, size, onDesk, lettered]);
  useEffect(() => () => painter.current?.stop(), []);

  useEffect(() => {
    const element = holder.current;
    if (!element) return;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const box = element.getBoundingClientRect();
      const at = { x: event.clientX - box.left, y: event.clientY - box.top };
      const { camera: old, keep: next } = latest.current;
      if (old) next(zoomAt(old, at, Math.exp(-event.deltaY * 0.0015)));
    };
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, []);

  useEffect(() => {
    const typed = (event: Event) =>
      /INPUT|TEXTAREA|SELECT|BUTTON/.test((event.target as Element)?.tagName ?? "");
    const down = (event: KeyboardEvent) => {
      if (event.code === "Space" && !typed(event)) {
        space.current = true;
        event.preventDefault();
      }
    };
    const up = (event: KeyboardEvent) => {
      if (event.code === "Space") space.current = false;
    };
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  }, []);

  const place = (event: { clientX: number; clientY: number }): Spot => {
    const box = holder.current?.getBoundingClientRect();
    return { x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) };
  };
  const onPaper = (event: PointerEvent | React.MouseEvent): PaperPointer | null =>
    over && {
      paper: toPaper(over, place(event)),
      shift: event.shiftKey,
      alt: event.altKey,
      zoom: over.zoom,
    };

  const { boxing, setBoxing, wanted, done } = useLook();
  useEffect(() => {
    if (wanted?.camera !== cameraKey || size.width === 0) return;
    latest.current.keep(fit(wanted.box, size.width, size.height, shared?.turn, LOOK_MARGIN));
    done();
  }, [wanted, cameraKey, size, shared, done]);
  const touch = useTouch(camera, keep, place);

  const pointerDown = (event: PointerEvent) => {
    if (touch.down(event)) {
      event.stopPropagation();
      return;
    }
    if (camera && (event.button === 1 || (event.button === 0 && space.current))) {
      panning.current = { at: place(event), camera };
      holder.current?.setPointerCapture(event.pointerId);
      event.preventDefault();
      event.stopPropagation();
    }
  };
  const pointerDownBelow = (event: PointerEvent) => {
    boxed.current = false;
    if ((props.onBox || boxing) && event.button === 0 && !panning.current && event.pointerType === "mouse")
      setBox({ from: place(event), to: place(event) });
  };
  const pointerUp = (event: PointerEvent) => {
    touch.up(event);
    panning.current = null;
    if (box && camera && Math.hypot(box.to.x - box.from.x, box.to.y - box.from.y) > LEAST_BOX) {
      boxed.current = true;
      if (boxing) {
        setBoxing(false);
        keep(zoomedTo(camera, box.from, box.to, size));
      } else
        props.onBox?.(toPaper(over ?? camera, box.from), toPaper(over ?? camera, box.to), event.shiftKey);
    }
    setBox(null);
  };
  const pointerMove = (event: PointerEvent) => {
    if (touch.move(event)) return;
    const start = panning.current;
    if (start) {
      const at = place(event);
      keep(panned(start.camera, at.x - start.at.x, at.y - start.at.y));
      return;
    }
    if (box) setBox({ ...box, to: place(event) });
    const pointer = onPaper(event);
    if (pointer && shared) {
      const [along, across] = onAxis(shared, pointer.paper);
      useAligned.getState().point({ along, across, pane: cameraKey });
    }
    if (pointer) props.onMove?.(pointer);
  };
  const call = (handler?: (pointer: PaperPointer) => void) => (event: React.MouseEvent) => {
    const pointer = onPaper(event);
    if (pointer && !space.current && !boxed.current && !touch.strayed() && event.button === 0)
      handler?.(pointer);
  };

  return (
    <div
      ref={holder}
      role="application"
      aria-label={props.name}
      className={`relative h-full w-full touch-none overflow-hidden select-none ${props.onDesk ? "bg-base-300" : "film"}`}
      style={{ cursor: boxing ? "zoom-in" : props.cursor }}
      onPointerDownCapture={pointerDown}
      onPointerMove={pointerMove}
      onPointerDown={pointerDownBelow}
      onPointerUp={pointerUp}
      onPointerCancel={pointerUp}
      onPointerLeave={() => shared && useAligned.getState().point(null)}
      onClick={call(props.onClick)}
      onKeyDown={() => undefined}
      onDoubleClick={call(props.onDoubleClick)}
    >
      <canvas ref={canvas} className="absolute inset-0 h-full w-full" data-painted={view ? "yes" : "no"} />
      {camera && size.width > 0 && props.layer?.(camera)}
      {camera && over && size.width > 0 && (
        <svg className="absolute inset-0 h-full w-full overflow-visible" aria-hidden={!props.children}>
          <title>{props.name}</title>
          {view?.images.map((image) => (
            <Picture key={`${image.name} ${image.box}`} camera={over} {...image} />
          ))}
          {props.children?.(over, size)}
          {box && <BoxDrawn {...box} />}
          {shared && <Hairline pane={cameraKey} shared={shared} camera={camera} size={size} />}
        </svg>
      )}
      {over && size.width > 0 && props.over?.(over)}
      {view && camera && (
        <CanvasTools
          view={view}
          camera={camera}
          scaled={!onDesk}
          onFit={() => keep(fit(page ?? view.page, size.width, size.height, shared?.turn))}
          onZoom={(zoom) =>
            keep(zoomAt(camera, { x: size.width / 2, y: size.height / 2 }, zoom / camera.zoom))
          }
        />
      )}
    </div>
  );
}

function Picture({ camera, name, box, fade }: View["images"][number] & { camera: Camera }) {
  const a = toScreen(camera, { x: box[0], y: box[3] });
  return (
    <image
      href={`/api/pictures/${name}`}
      x={a.x}
      y={a.y}
      width={(box[2] - box[0]) * camera.zoom}
      height={(box[3] - box[1]) * camera.zoom}
      opacity={1 - fade}
      pointerEvents="none"
    />
  );
}

/** The camera that shows what lies between two corners on screen. */
function zoomedTo(camera: Camera, a: Spot, b: Spot, size: { width: number; height: number }): Camera {
  const [wide, high] = [Math.abs(b.x - a.x), Math.abs(b.y - a.y)];
  const factor = Math.min(size.width / wide, size.height / high);
  const middle = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
  const centred = panned(camera, size.width / 2 - middle.x, size.height / 2 - middle.y);
  return zoomAt(centred, { x: size.width / 2, y: size.height / 2 }, factor);
}

/** A box from left to right takes what lies in it, drawn through; from right to left what it touches, dashed. */
function BoxDrawn({ from, to }: { from: Spot; to: Spot }) {
  const whole = to.x > from.x;
  return (
    <rect
      x={Math.min(from.x, to.x)}
      y={Math.min(from.y, to.y)}
      width={Math.abs(to.x - from.x)}
      height={Math.abs(to.y - from.y)}
      fill="var(--ink-depth)"
      fillOpacity={0.08}
      stroke="var(--ink-depth)"
      strokeDasharray={whole ? undefined : "5 4"}
      pointerEvents="none"
    />
  );
}

type HairlineProps = {
  pane: string;
  shared: SharedAxis;
  camera: Camera;
  size: { width: number; height: number };
};

/** The line under the pointer that runs through both aligned panes, with its place; in an upright drawing the other
 * measure too. */
function Hairline({ pane, shared, camera, size }: HairlineProps) {
  const hair = useAligned((s) => s.hair);
  const { show } = useLengths();
  if (hair === null) return null;
  const at = shared.zero + hair.along / shared.scale;
  const [x, y] = [(at - camera.left) * camera.zoom, (camera.top - at) * camera.zoom];
  const level = shared.axis === "y";
  const ends = level ? { x1: 0, x2: size.width, y1: y, y2: y } : { x1: x, x2: x, y1: 0, y2: size.height };
  const words = [`${level ? "height" : "along"} ${show(hair.along / 1000)}`];
  if (hair.pane === pane && shared.turn === 0)
    words.push(`${level ? "along" : "height"} ${show(hair.across / 1000)}`);
  const text = level ? { x: 8, y: y - 5 } : { x: x + 5, y: 14 };
  return (
    <g pointerEvents="none">
      <line {...ends} data-hairline={Math.round(hair.along)} stroke="var(--ink-cut)" strokeWidth={1} />
      <text
        {...text}
        fontSize={11}
        className="figures"
        fill="var(--ink-cut)"
        stroke="var(--film)"
        strokeWidth={3}
        paintOrder="stroke"
      >
        {words.join("   ")}
      </text>
    </g>
  );
}
