import { type PointerEvent, useRef, useState } from "react";
import type { At } from "../api/remarks";
import { type Camera, type Spot, toPaper } from "../drawing/camera";
import { Strokes } from "./Pins";
import { useRemarking } from "./pinning";

const INK = "var(--color-accent)";
const STEP = 2; // pixels between two points of a line
const MOST = 1500; // points of a line; then another one begins

/** The sketch of the remark that is being written, which the pointer draws while it may. `scale`: mm of the remark's
 * coordinates in a mm of paper. */
export function Sketching({ camera, scale }: { camera: Camera; scale: number }) {
  const { sketch, sketching } = useRemarking();
  const [line, setLine] = useState<At[]>([]);
  const last = useRef<Spot | null>(null);
  const onPaper = (stroke: readonly At[]) => stroke.map(([u, v]) => ({ x: u / scale, y: v / scale }));
  const at = (event: PointerEvent): { pixel: Spot; point: At } => {
    const box = event.currentTarget.getBoundingClientRect();
    const pixel = { x: event.clientX - box.left, y: event.clientY - box.top };
    const { x, y } = toPaper(camera, pixel);
    return { pixel, point: [round(x * scale), round(y * scale)] };
  };
  const keep = () => {
    if (line.length > 1) useRemarking.setState({ sketch: [...sketch, line] });
    setLine([]);
  };
  return (
    <g>
      <Strokes
        camera={camera}
        strokes={(line.length > 0 ? [...sketch, line] : sketch).map(onPaper)}
        ink={INK}
      />
      {sketching && (
        // biome-ignore lint/a11y/noStaticElementInteractions: lines are drawn here, which keys can't do
        <rect
          aria-label="Sketch here"
          width="100%"
          height="100%"
          fill="transparent"
          style={{ cursor: "crosshair" }}
          onPointerDown={(event) => {
            if (event.button !== 0) return;
            event.stopPropagation();
            event.currentTarget.setPointerCapture(event.pointerId);
            const { pixel, point } = at(event);
            last.current = pixel;
            setLine([point]);
          }}
          onPointerMove={(event) => {
            if (line.length === 0 || !last.current) return;
            event.stopPropagation();
            const { pixel, point } = at(event);
            if (Math.hypot(pixel.x - last.current.x, pixel.y - last.current.y) < STEP) return;
            last.current = pixel;
            if (line.length < MOST) setLine([...line, point]);
            else {
              keep();
              setLine([point]);
            }
          }}
          onPointerUp={(event) => {
            event.stopPropagation();
            keep();
          }}
          onPointerCancel={() => setLine([])}
          onClick={(event) => event.stopPropagation()}
        />
      )}
    </g>
  );
}

const round = (mm: number) => Math.round(mm * 100) / 100;
