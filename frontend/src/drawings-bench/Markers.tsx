import { memo } from "react";
import type { Drawing, SectionCut, Settings } from "../api/client";
import { type Camera, toScreen, turnedBy } from "../drawing/camera";
import type { Place } from "./bench-state";
import { directions, distance, onPaper, shifted } from "./plan-geometry";

type Props = {
  camera: Camera;
  scale: number;
  drawing: Drawing;
  cut: SectionCut;
  lit: boolean;
  form: Settings["marker"];
  onChoose: () => void;
  onOpen: () => void;
};

/** A cutting line with its heads: number over sheet where placed, else the letter over a dash. A project may have
 * hundreds of them: each is drawn anew only when it looks different. */
export const SectionMarker = memo(
  Marker,
  (a, b) =>
    a.camera === b.camera &&
    a.scale === b.scale &&
    a.drawing === b.drawing &&
    a.cut === b.cut &&
    a.lit === b.lit &&
    a.form === b.form,
);

function Marker({ camera, scale, drawing, cut, lit, form, onChoose, onOpen }: Props) {
  const mm = scale / 1000; // metres of model in a millimetre of paper
  const points = cut.line as Place[];
  const [a, b] = [points[0] as Place, points.at(-1) as Place];
  const first = directions(points.slice(0, 2), cut.look);
  const last = directions(points.slice(-2), cut.look);
  const tips = [
    shifted(a, first.along, -form.overhang * mm),
    shifted(b, last.along, form.overhang * mm),
  ] as const;
  const heads = [
    { at: shifted(tips[0], first.along, -form.radius * mm), ...first },
    { at: shifted(tips[1], last.along, form.radius * mm), ...last },
  ] as const;
  const screen = (p: [number, number]) => toScreen(camera, onPaper(p, scale));
  const [upper, lower] = drawing.placement
    ? [drawing.placement.number, drawing.placement.sheet_number]
    : [drawing.letter, "–"];
  const zoom = Math.max(camera.zoom, 10 / form.radius); // heads stay legible from afar
  const colour = lit ? "var(--ink-cut)" : "#2a3230";
  const line = [screen(tips[0]), screen(a), screen(b), screen(tips[1])] as const;
  const whole = [tips[0], ...points, tips[1]].map(screen).map((p) => `${p.x},${p.y}`);
  const width = lit ? 1.8 : 1.1;
  const dash = form.dash.map((d) => Math.max(d * width, 1)).join(" ");
  return (
    // biome-ignore lint/a11y/useSemanticElements: a button can't stand in an SVG
    <g
      role="button"
      tabIndex={0}
      aria-label={`Marker of ${drawing.title}: ${upper} over ${lower}`}
      aria-pressed={lit}
      data-marker={drawing.id}
      className="pointer-events-auto cursor-pointer"
      stroke={colour}
      fill="none"
      strokeLinecap="round"
      onClick={(event) => {
        event.stopPropagation();
        onChoose();
      }}
      onDoubleClick={(event) => {
        event.stopPropagation();
        onOpen();
      }}
      onKeyDown={(event) => {
        if (event.key === "Enter") onOpen();
      }}
    >
      <title>{`${drawing.title} (double-click opens it)`}</title>
      <polyline points={whole.join(" ")} stroke="transparent" strokeWidth={12} />
      <polyline points={whole.join(" ")} strokeWidth={width} strokeDasharray={dash} />
      <line x1={line[0].x} y1={line[0].y} x2={line[1].x} y2={line[1].y} strokeWidth={2.6} />
      <line x1={line[2].x} y1={line[2].y} x2={line[3].x} y2={line[3].y} strokeWidth={2.6} />
      {points.slice(1, -1).map((p, k) => {
        const key = `corner ${k + 1}`;
        const [before, after] = [points[k] as Place, points[k + 2] as Place];
        const reach = Math.max(form.corner * mm, 6 / camera.zoom / (1000 / scale));
        const ends = [towards(p, before, reach), p, towards(p, after, reach)].map(screen);
        return <polyline key={key} points={ends.map((q) => `${q.x},${q.y}`).join(" ")} strokeWidth={2.6} />;
      })}
      {heads.map(({ at: place, along, look }, index) => {
        const at = screen(place);
        const turned = ([x, y]: Place): Place => {
          const p = { x: along[0] * x + look[0] * y, y: along[1] * x + look[1] * y };
          const q = turnedBy(camera.turn, p);
          return [q.x, q.y];
        };
        const fills = { pen: colour, ground: "#ffffff", none: "none" } as const;
        return (
          // coordinates are written out: hundreds of transforms would cost the browser more than the drawing
          <g key={index === 0 ? "start" : "end"}>
            {form.head.map((shape) => {
              const points = (shape.points as Place[])
                .map((p) => (shape.turns ? turned(p) : p))
                .map(([x, y]) => `${at.x + x * zoom},${at.y - y * zoom}`)
                .join(" ");
              const Path = shape.closed ? "polygon" : "polyline";
              const stroke = shape.fill === "pen" ? "none" : colour;
              return (
                <Path
                  key={`${shape.role} ${shape.fill}`}
                  points={points}
                  fill={fills[shape.fill]}
                  stroke={stroke}
                  strokeWidth={1.2}
                />
              );
            })}
            <g fill={colour} stroke="none" textAnchor="middle" style={{ fontFamily: "Edge Slice Lettering" }}>
              {form.texts.map((text, k) => {
                const said = k === 0 ? upper : lower;
                const size = text.size * Math.min(1, 4.6 / Math.max(2, said.length));
                return (
                  <text
                    key={text.role}
                    x={at.x}
                    y={at.y - text.y * zoom}
                    fontSize={size * zoom}
                    className={text.role.replace(" ", "-")}
                  >
                    {said}
                  </text>
                );
              })}
            </g>
          </g>
        );
      })}
    </g>
  );
}

/** The point so many metres from p on its way to q, at most half of the way. */
const towards = (p: Place, q: Place, reach: number): Place => {
  const share = Math.min(0.5, reach / (distance(p, q) || 1));
  return [p[0] + (q[0] - p[0]) * share, p[1] + (q[1] - p[1]) * share];
};
