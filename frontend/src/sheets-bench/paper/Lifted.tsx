import { useLayoutEffect, useRef } from "react";
import type { Placement } from "../../api/client";
import { type Camera, type Spot, toScreen } from "../../drawing/camera";

const AIR = 4; // mm around a drawing that are lifted with it

/** What the sheet shows of a placement, lifted off it and moved with the pointer. */
export function Lifted({ camera, placement, by }: { camera: Camera; placement: Placement; by: Spot }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [left, base, right, top] = placement.box;
  const a = toScreen(camera, { x: left - AIR, y: top + AIR });
  const wide = (right - left + 2 * AIR) * camera.zoom;
  const high = (top - base + 2 * AIR) * camera.zoom;
  // biome-ignore lint/correctness/useExhaustiveDependencies: copied once, as it was lifted
  useLayoutEffect(() => {
    const target = canvas.current;
    const source = target?.closest("[role=application]")?.querySelector("canvas");
    if (!target || !source) return;
    const ratio = window.devicePixelRatio || 1;
    target.width = Math.max(1, wide * ratio);
    target.height = Math.max(1, high * ratio);
    target.getContext("2d")?.drawImage(source, -a.x * ratio, -a.y * ratio);
  }, []);
  return (
    <canvas
      ref={canvas}
      data-lifted={placement.id}
      className="pointer-events-none absolute top-0 left-0 opacity-80"
      style={{
        width: wide,
        height: high,
        transform: `translate(${a.x + by.x * camera.zoom}px, ${a.y - by.y * camera.zoom}px)`,
      }}
    />
  );
}
