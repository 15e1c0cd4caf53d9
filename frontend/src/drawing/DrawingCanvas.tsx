import { Maximize } from "lucide-react";
import {
  type PointerEvent,
  type ReactNode,
  useCallback,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
} from "react";
import { type Camera, fit, type Spot, toPaper, zoomAt } from "./camera";
import { paint } from "./paint";
import type { View } from "./screen-form";

const cameras = new Map<string, Camera>();

/** Pointer events of a canvas in paper millimetres. */
export type PaperPointer = { paper: Spot; shift: boolean; alt: boolean };
type Props = {
  name: string;
  /** What the camera belongs to: it is kept while the window is open. */
  cameraKey: string;
  view: View | null;
  onClick?: (pointer: PaperPointer) => void;
  onMove?: (pointer: PaperPointer) => void;
  onDoubleClick?: (pointer: PaperPointer) => void;
  cursor?: string;
  /** Show the drawing's frame as paper on a desk. */
  onDesk?: boolean;
  /** Interactive parts over the drawing, in screen pixels. */
  children?: (camera: Camera, size: { width: number; height: number }) => ReactNode;
};

/** Film with a drawing on it: wheel zooms at the cursor, middle button or a held Space pans. */
export function DrawingCanvas(props: Props) {
  const { cameraKey, view, onDesk } = props;
  const holder = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [camera, setCamera] = useState<Camera | null>(cameras.get(cameraKey) ?? null);
  const panning = useRef<{ at: Spot; camera: Camera } | null>(null);
  const space = useRef(false);

  const keep = useCallback(
    (next: Camera) => {
      cameras.set(cameraKey, next);
      setCamera(next);
    },
    [cameraKey],
  );

  useLayoutEffect(() => {
    const element = holder.current;
    if (!element) return;
    const watcher = new ResizeObserver(() =>
      setSize({ width: element.clientWidth, height: element.clientHeight }),
    );
    watcher.observe(element);
    return () => watcher.disconnect();
  }, []);

  useEffect(() => setCamera(cameras.get(cameraKey) ?? null), [cameraKey]);

  const page = view?.page;
  useEffect(() => {
    if (page && !cameras.has(cameraKey) && size.width > 0) keep(fit(page, size.width, size.height));
  }, [page, cameraKey, size, keep]);

  useEffect(() => {
    const draw = () =>
      canvas.current && view && camera && size.width > 0 && paint(canvas.current, view, camera, onDesk);
    draw();
    document.fonts.load('4px "Edge Slice Lettering"').then(draw);
  }, [view, camera, size, onDesk]);

  useEffect(() => {
    const element = holder.current;
    if (!element) return;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const box = element.getBoundingClientRect();
      const at = { x: event.clientX - box.left, y: event.clientY - box.top };
      const old = cameras.get(cameraKey);
      if (old) keep(zoomAt(old, at, Math.exp(-event.deltaY * 0.0015)));
    };
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, [cameraKey, keep]);

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
    camera && { paper: toPaper(camera, place(event)), shift: event.shiftKey, alt: event.altKey };

  const pointerDown = (event: PointerEvent) => {
    if (camera && (event.button === 1 || (event.button === 0 && space.current))) {
      panning.current = { at: place(event), camera };
      holder.current?.setPointerCapture(event.pointerId);
      event.preventDefault();
      event.stopPropagation();
    }
  };
  const pointerMove = (event: PointerEvent) => {
    const start = panning.current;
    if (start) {
      const at = place(event);
      keep({
        ...start.camera,
        left: start.camera.left - (at.x - start.at.x) / start.camera.zoom,
        top: start.camera.top + (at.y - start.at.y) / start.camera.zoom,
      });
      return;
    }
    const pointer = onPaper(event);
    if (pointer) props.onMove?.(pointer);
  };
  const call = (handler?: (pointer: PaperPointer) => void) => (event: React.MouseEvent) => {
    const pointer = onPaper(event);
    if (pointer && !space.current && event.button === 0) handler?.(pointer);
  };

  return (
    <div
      ref={holder}
      role="application"
      aria-label={props.name}
      className={`relative h-full w-full touch-none overflow-hidden select-none ${props.onDesk ? "bg-base-300" : "film"}`}
      style={{ cursor: props.cursor }}
      onPointerDownCapture={pointerDown}
      onPointerMove={pointerMove}
      onPointerUp={() => {
        panning.current = null;
      }}
      onClick={call(props.onClick)}
      onKeyDown={() => undefined}
      onDoubleClick={call(props.onDoubleClick)}
    >
      <canvas ref={canvas} className="absolute inset-0 h-full w-full" data-painted={view ? "yes" : "no"} />
      {camera && size.width > 0 && (
        <svg className="absolute inset-0 h-full w-full overflow-visible" aria-hidden={!props.children}>
          <title>{props.name}</title>
          {props.children?.(camera, size)}
        </svg>
      )}
      {view && (
        <button
          type="button"
          className="btn btn-xs btn-square absolute right-2 bottom-2 bg-base-200/80"
          title="Show the whole drawing"
          aria-label="Show the whole drawing"
          onClick={(event) => {
            event.stopPropagation();
            keep(fit(view.page, size.width, size.height));
          }}
        >
          <Maximize size={13} />
        </button>
      )}
    </div>
  );
}
