import { memo, useRef, useState } from "react";
import type { CalloutMark, Settings } from "../../api/client";
import { type Camera, type Spot, toPaper, toScreen } from "../../drawing/camera";
import type { PlacedCallout } from "../../drawing/screen-form";

type Props = {
  camera: Camera;
  /** Where the markers stand, and what they say. */
  placed: PlacedCallout[];
  marks: CalloutMark[];
  titles: Map<number, string>;
  /** The chosen drawing. */
  lit?: number;
  passive: boolean;
  faint: boolean;
  form: Settings["marker"];
  onChoose: (drawing: number) => void;
  onBeside: (drawing: number) => void;
  /** A bubble was dragged: mm on paper from the middle of its region. */
  onBubble: (mark: CalloutMark, bubble: [number, number]) => void;
};

/** What a pane shows of callouts: their boundaries, leaders and bubbles. */
export const CalloutLayer = memo(function CalloutLayer({ placed, marks, ...props }: Props) {
  return placed.map((at) => {
    const mark = marks.find((m) => m.source === at.source);
    return mark && <CalloutShape key={at.source} at={at} mark={mark} {...props} />;
  });
});

type ShapeProps = Omit<Props, "placed" | "marks"> & { at: PlacedCallout; mark: CalloutMark };
const FAR = 4; // pixels; a bubble that is moved by less was clicked

function CalloutShape({ at, mark, camera, titles, lit, passive, faint, form, ...acts }: ShapeProps) {
  const held = useRef<{ x: number; y: number; far: boolean } | null>(null);
  const [dragged, setDragged] = useState<Spot | null>(null);
  const title = titles.get(mark.target) ?? "";
  const words = [mark.upper, mark.lower].join(" over ");
  const chosen = mark.target === lit;
  const screen = (p: readonly [number, number]) => toScreen(camera, { x: p[0], y: p[1] });
  const ring = at.boundary.map(screen);
  const bubble = dragged ?? { x: at.bubble[0], y: at.bubble[1] };
  const radius = Math.max(at.radius * camera.zoom, 10); // legible from afar, and then further from its region
  const zoom = radius / at.radius;
  const start = at.leader[0] ? screen(at.leader[0]) : undefined;
  const spot = further(
    toScreen(camera, bubble),
    dragged ? undefined : start,
    radius - at.radius * camera.zoom,
  );
  const leader = dragged ? [nearest(at.boundary, dragged)] : at.leader;
  const way = leader.map((p) => screen(p as [number, number]));
  const stroke = { stroke: "var(--ink-callout)", strokeWidth: chosen ? 2 : 1.2, fill: "none" };
  const path = (points: Spot[]) => points.map((p, k) => `${k === 0 ? "M" : "L"}${p.x} ${p.y}`).join("");
  const drop = () => {
    const start = held.current;
    held.current = null;
    if (!start?.far || !dragged) return;
    const xs = at.boundary.map((p) => p[0]);
    const ys = at.boundary.map((p) => p[1]);
    const middle = [
      (Math.min(...xs) + Math.max(...xs)) / 2,
      (Math.min(...ys) + Math.max(...ys)) / 2,
    ] as const;
    acts.onBubble(mark, [round(dragged.x - middle[0]), round(dragged.y - middle[1])]);
    setTimeout(() => setDragged(null), 600); // the drawing follows
  };
  return (
    // biome-ignore lint/a11y/useSemanticElements: a button can't stand in an SVG
    <g
      role="button"
      tabIndex={0}
      aria-label={`Callout ${title}: ${words}`}
      aria-pressed={chosen}
      data-callout={mark.source}
      className={`${passive ? "pointer-events-none" : "pointer-events-auto cursor-pointer"} ${faint ? "opacity-40" : ""}`}
      onClick={(event) => {
        event.stopPropagation();
        (event.altKey ? acts.onBeside : acts.onChoose)(mark.target);
      }}
      onKeyDown={(event) => {
        if (event.key === "Enter") (event.altKey ? acts.onBeside : acts.onChoose)(mark.target);
      }}
    >
      <title>{`${title} (Alt-click shows it in the other pane; the bubble can be dragged)`}</title>
      <path d={`${path(ring)}Z`} {...stroke} strokeDasharray="7 3" />
      <path d={`${path(ring)}Z`} stroke="transparent" strokeWidth={9} fill="none" />
      {way.length > 0 && <path d={path(dragged ? [...way, spot] : way)} {...stroke} strokeWidth={1} />}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the group around it is the button */}
      <g
        className={mark.own ? "cursor-grab" : undefined}
        onPointerDown={(event) => {
          if (!mark.own || event.button !== 0) return;
          held.current = { x: event.clientX, y: event.clientY, far: false };
          event.currentTarget.setPointerCapture(event.pointerId);
          event.stopPropagation();
        }}
        onPointerMove={(event) => {
          const start = held.current;
          if (!start) return;
          event.stopPropagation();
          start.far ||= Math.hypot(event.clientX - start.x, event.clientY - start.y) > FAR;
          const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
          if (start.far && box)
            setDragged(toPaper(camera, { x: event.clientX - box.left, y: event.clientY - box.top }));
        }}
        onPointerUp={drop}
        onClick={(event) => dragged && event.stopPropagation()}
        onKeyDown={() => undefined}
      >
        <circle cx={spot.x} cy={spot.y} r={radius} {...stroke} fill="#ffffff" />
        <path d={`M${spot.x - radius} ${spot.y}h${2 * radius}`} {...stroke} strokeWidth={1} />
        <g fill="var(--ink-callout)" textAnchor="middle" style={{ fontFamily: "Edge Slice Lettering" }}>
          {form.texts.map((text, k) => {
            const said = k === 0 ? mark.upper : mark.lower;
            const size = text.size * Math.min(1, 4.6 / Math.max(2, said.length));
            return (
              <text key={text.role} x={spot.x} y={spot.y - text.y * zoom} fontSize={size * zoom}>
                {said}
              </text>
            );
          })}
        </g>
      </g>
    </g>
  );
}

/** A spot moved away from another one. */
function further(spot: Spot, from: Spot | undefined, by: number): Spot {
  if (!from || by <= 0) return spot;
  const [dx, dy] = [spot.x - from.x, spot.y - from.y];
  const far = Math.hypot(dx, dy) || 1;
  return { x: spot.x + (dx / far) * by, y: spot.y + (dy / far) * by };
}

const round = (value: number) => Math.round(value * 10) / 10;

/** The corner of a ring that is nearest to a point: where a leader starts while its bubble is dragged. */
function nearest(ring: [number, number][], to: Spot): [number, number] {
  const far = (p: [number, number]) => Math.hypot(p[0] - to.x, p[1] - to.y);
  return ring.reduce((best, p) => (far(p) < far(best) ? p : best));
}
