import { useRef, useState } from "react";
import type { Hatch } from "../api/client";
import {
  neighbours,
  type Point,
  type Spot,
  type Strokes,
  snapped,
  snapStep,
  withoutPoint,
  withPoint,
  withPointBefore,
} from "./tile-strokes";

type Tile = Hatch["tiles"][number];
const ARROWS: Record<string, Point> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};
const ACROSS = 340; // pixels that the picture is wide
const path = (stroke: Point[]) => stroke.map(([x, y], k) => `${k ? "L" : "M"}${x} ${y}`).join("");

type CanvasProps = { tile: Tile; readOnly: boolean; onChange: (strokes: Strokes) => void };

/** A tile among its neighbours: drag points, click a stroke to bend it there, draw further strokes. */
export function TileCanvas({ tile, readOnly, onChange }: CanvasProps) {
  const { width, height, stagger } = tile;
  const svg = useRef<SVGSVGElement>(null);
  const [moved, setMoved] = useState<Strokes | null>(null);
  const [dragged, setDragged] = useState<Spot | null>(null);
  const [pending, setPending] = useState<Point[] | null>(null);
  const strokes = moved ?? tile.strokes;
  const step = snapStep(width, height);
  const around = 0.3 * Math.max(width, height);
  const pixel = (width + 2 * around) / ACROSS;

  const at = (event: React.PointerEvent | React.MouseEvent): Point => {
    const to = svg.current?.querySelector("g")?.getScreenCTM()?.inverse();
    const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(to);
    return event.altKey ? [Number(p.x.toFixed(3)), Number(p.y.toFixed(3))] : snapped([p.x, p.y], step);
  };
  const begin = (event: React.PointerEvent, spot: Spot, from: Strokes) => {
    if (pending) return;
    svg.current?.setPointerCapture(event.pointerId);
    setDragged(spot);
    setMoved(from);
  };
  const end = () => {
    if (moved && dragged) onChange(moved);
    setMoved(null);
    setDragged(null);
  };
  const finish = () => {
    if (pending && pending.length > 1) onChange([...tile.strokes, pending]);
    setPending(null);
  };
  const onPointKey = (event: React.KeyboardEvent, spot: Spot) => {
    const by = ARROWS[event.key];
    const now = tile.strokes[spot.stroke]?.[spot.point];
    if (by && now) {
      onChange(withPoint(tile.strokes, spot, snapped([now[0] + by[0] * step, now[1] + by[1] * step], step)));
    } else if (event.key === "Delete" || event.key === "Backspace") {
      const left = withoutPoint(tile.strokes, spot);
      if (left) onChange(left);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const add = (event: React.MouseEvent) => {
    if (!pending) return;
    const point = at(event);
    const last = pending.at(-1);
    if (last && last[0] === point[0] && last[1] === point[1]) finish();
    else setPending([...pending, point]);
  };
  return (
    <div className="flex flex-col gap-1">
      {/* biome-ignore lint/a11y/useSemanticElements: a fieldset is no picture */}
      <svg
        ref={svg}
        role="group"
        aria-label="Picture that is repeated"
        className={`w-full touch-none rounded bg-base-100 ${pending ? "cursor-crosshair" : ""}`}
        viewBox={`${-around} ${-height - around} ${width + 2 * around} ${height + 2 * around}`}
        onPointerMove={(event) => dragged && setMoved(withPoint(strokes, dragged, at(event)))}
        onPointerUp={end}
        onPointerCancel={end}
        onClick={add}
        onKeyDown={(event) => event.key === "Escape" && setPending(null)}
      >
        <g transform="scale(1 -1)" fill="none" stroke="currentColor" strokeWidth={1.4 * pixel}>
          <g opacity={0.3}>
            {neighbours(width, height, stagger).map(([x, y]) => (
              <path key={`${x} ${y}`} d={strokes.map(path).join("")} transform={`translate(${x} ${y})`} />
            ))}
          </g>
          <rect
            width={width}
            height={height}
            strokeWidth={pixel}
            strokeDasharray={`${4 * pixel} ${3 * pixel}`}
            opacity={0.6}
          />
          {readOnly && <path d={strokes.map(path).join("")} />}
          {(readOnly ? [] : strokes).map((stroke, k) => (
            <StrokeHandles
              // biome-ignore lint/suspicious/noArrayIndexKey: strokes are told apart by their place in the list
              key={k}
              number={k}
              stroke={stroke}
              pixel={pixel}
              onGrab={(event, point) => begin(event, { stroke: k, point }, strokes)}
              onBend={(event, point) =>
                begin(event, { stroke: k, point }, withPointBefore(strokes, { stroke: k, point }, at(event)))
              }
              onKey={(event, point) => onPointKey(event, { stroke: k, point })}
            />
          ))}
          {pending && <path d={path(pending)} className="text-primary" stroke="currentColor" />}
          {pending?.[0] && <circle cx={pending.at(-1)?.[0]} cy={pending.at(-1)?.[1]} r={3 * pixel} />}
        </g>
      </svg>
      <div className={readOnly ? "hidden" : "flex items-center gap-2"}>
        <button
          type="button"
          className={`btn btn-xs ${pending ? "btn-primary" : ""}`}
          onClick={() => (pending ? finish() : setPending([]))}
          onKeyDown={(event) => event.key === "Escape" && setPending(null)}
        >
          {pending ? "End this stroke" : "Draw a stroke"}
        </button>
        <span className="text-xs opacity-85">
          {pending ? "Click its points; twice on the last one" : "Drag points; Delete removes one"}
        </span>
      </div>
    </div>
  );
}

type HandleProps = {
  number: number;
  stroke: Point[];
  pixel: number;
  onGrab: (event: React.PointerEvent, point: number) => void;
  onBend: (event: React.PointerEvent, point: number) => void;
  onKey: (event: React.KeyboardEvent, point: number) => void;
};

/** A stroke with a handle on each point; between them it can be taken hold of too. */
function StrokeHandles({ number, stroke, pixel, onGrab, onBend, onKey }: HandleProps) {
  return (
    <g>
      <path d={path(stroke)} pointerEvents="none" />
      {stroke.slice(1).map((to, k) => {
        const from = stroke[k] ?? to;
        return (
          <line
            key={`${from.join(" ")} ${to.join(" ")}`}
            x1={from[0]}
            y1={from[1]}
            x2={to[0]}
            y2={to[1]}
            stroke="transparent"
            strokeWidth={8 * pixel}
            className="cursor-copy"
            onPointerDown={(event) => onBend(event, k + 1)}
          />
        );
      })}
      {stroke.map(([x, y], k) => (
        // biome-ignore lint/a11y/useSemanticElements: a button element can't stand within an SVG
        <circle
          // biome-ignore lint/suspicious/noArrayIndexKey: points are told apart by their place in the stroke
          key={k}
          role="button"
          tabIndex={0}
          aria-label={`Stroke ${number + 1}, point ${k + 1}`}
          cx={x}
          cy={y}
          r={4 * pixel}
          className="cursor-move fill-base-100 text-secondary outline-none focus:fill-secondary"
          stroke="currentColor"
          onPointerDown={(event) => onGrab(event, k)}
          onKeyDown={(event) => onKey(event, k)}
        />
      ))}
    </g>
  );
}
