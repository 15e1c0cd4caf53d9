import type { KeyboardEvent, PointerEvent } from "react";
import { useRef } from "react";
import { type Camera, type Spot, toPaper, toScreen } from "../camera";

type Props = {
  camera: Camera;
  at: Spot;
  label: string;
  colour: string;
  shape?: "round" | "square" | "diamond";
  cursor?: string;
  /** Paper point under the pointer while dragging. */
  onDrag: (paper: Spot, shift: boolean, alt: boolean) => void;
  onDrop: () => void;
};

const STEP = 1; // mm on paper for an arrow key; ten times as much with Shift

/** A handle that is dragged with the pointer, or nudged with the arrow keys. */
export function Grip({ camera, at, label, colour, shape = "round", cursor = "grab", onDrag, onDrop }: Props) {
  const held = useRef(false);
  const spot = toScreen(camera, at);
  const paperAt = (event: PointerEvent<SVGGElement>): Spot => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    return toPaper(camera, { x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) });
  };
  const nudge = (event: KeyboardEvent) => {
    const step = event.shiftKey ? 10 * STEP : STEP;
    const moves: Record<string, Spot> = {
      ArrowLeft: { x: -step, y: 0 },
      ArrowRight: { x: step, y: 0 },
      ArrowUp: { x: 0, y: step },
      ArrowDown: { x: 0, y: -step },
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    event.stopPropagation();
    onDrag({ x: at.x + move.x, y: at.y + move.y }, false, true);
    onDrop();
  };
  return (
    // biome-ignore lint/a11y/useSemanticElements: a button can't stand in an SVG
    <g
      role="button"
      tabIndex={0}
      aria-label={label}
      transform={`translate(${spot.x} ${spot.y})`}
      style={{ cursor }}
      className="pointer-events-auto"
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        held.current = true;
        event.currentTarget.setPointerCapture(event.pointerId);
        event.stopPropagation();
      }}
      onPointerMove={(event) => {
        if (!held.current) return;
        event.stopPropagation();
        onDrag(paperAt(event), event.shiftKey, event.altKey);
      }}
      onPointerUp={(event) => {
        if (!held.current) return;
        held.current = false;
        event.stopPropagation();
        onDrop();
      }}
      onClick={(event) => event.stopPropagation()}
      onKeyDown={nudge}
    >
      <title>{label}</title>
      <circle r={11} fill="transparent" />
      {shape === "round" && <circle r={5} fill="var(--film)" stroke={colour} strokeWidth={2} />}
      {shape === "square" && (
        <rect x={-4.5} y={-4.5} width={9} height={9} fill="var(--film)" stroke={colour} strokeWidth={2} />
      )}
      {shape === "diamond" && (
        <path d="M0 -6.5 6.5 0 0 6.5 -6.5 0Z" fill={colour} stroke="var(--film)" strokeWidth={1.5} />
      )}
    </g>
  );
}
