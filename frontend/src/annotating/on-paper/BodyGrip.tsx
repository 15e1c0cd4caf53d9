import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import { type Camera, type Spot, turnedBy } from "../../drawing/camera";

type Props = {
  label: string;
  camera: Camera;
  /** Of the box on screen. */
  corners: Spot[];
  colour: string;
  /** By how much it is moved, mm on paper. */
  onDrag: (by: Spot) => void;
  onDrop: (by: Spot) => void;
};
const FAR = 3; // pixels; less is a click
const STEP = 1; // mm on paper for an arrow key; ten times as much with Shift

/** The box around something chosen, by which it is dragged whole or nudged with the arrow keys. */
export function BodyGrip({ label, camera, corners, colour, onDrag, onDrop }: Props) {
  const start = useRef<Spot | null>(null);
  const by = useRef<Spot | null>(null);
  const move = (event: PointerEvent) => {
    const from = start.current;
    if (!from) return;
    event.stopPropagation();
    const [dx, dy] = [event.clientX - from.x, event.clientY - from.y];
    if (!by.current && Math.hypot(dx, dy) < FAR) return;
    by.current = turnedBy(-(camera.turn ?? 0), { x: dx / camera.zoom, y: -dy / camera.zoom });
    onDrag(by.current);
  };
  const nudge = (event: KeyboardEvent) => {
    const step = event.shiftKey ? 10 * STEP : STEP;
    const moves: Record<string, Spot> = {
      ArrowLeft: { x: -step, y: 0 },
      ArrowRight: { x: step, y: 0 },
      ArrowUp: { x: 0, y: step },
      ArrowDown: { x: 0, y: -step },
    };
    const to = moves[event.key];
    if (!to) return;
    event.preventDefault();
    event.stopPropagation();
    onDrag(to);
    onDrop(to);
  };
  return (
    // biome-ignore lint/a11y/useSemanticElements: a button can't stand in an SVG
    <polygon
      role="button"
      tabIndex={0}
      aria-label={label}
      points={corners.map((p) => `${p.x},${p.y}`).join(" ")}
      fill={colour}
      fillOpacity={0.05}
      stroke={colour}
      strokeDasharray="3 3"
      className="pointer-events-auto cursor-move"
      onPointerDown={(event) => {
        if (event.button !== 0 || event.shiftKey) return;
        start.current = { x: event.clientX, y: event.clientY };
        event.currentTarget.setPointerCapture(event.pointerId);
        event.stopPropagation();
      }}
      onPointerMove={move}
      onPointerUp={(event) => {
        const moved = by.current;
        start.current = null;
        by.current = null;
        if (moved) {
          event.stopPropagation();
          onDrop(moved);
        }
      }}
      onKeyDown={nudge}
    />
  );
}
