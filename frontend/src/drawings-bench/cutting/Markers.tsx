import { memo, useDeferredValue } from "react";
import type { Marker, Settings } from "../../api/client";
import type { Place } from "../../desk/drawings-state";
import { type Camera, toScreen, turnedBy } from "../../drawing/camera";
import { directions, distance, onPaper, shifted } from "./plan-geometry";

type Props = {
  camera: Camera;
  scale: number;
  marker: Marker;
  /** The drawing that it leads to. */
  title: string;
  lit: boolean;
  /** Whether something else is being drawn over it. */
  passive?: boolean;
  form: Settings["marker"];
  onChoose: (drawing: number) => void;
  onBeside: (drawing: number) => void;
};
type Ends = [start: Place, end: Place];

/** A cutting line with its heads, or the head of an elevation: number over sheet where placed, else the letter over a
 * dash. A project may have hundreds of them: each is drawn anew only when it looks different. */
export const DrawingMarker = memo(
  MarkerShape,
  (a, b) =>
    a.camera === b.camera &&
    a.scale === b.scale &&
    a.marker === b.marker &&
    a.title === b.title &&
    a.lit === b.lit &&
    a.passive === b.passive &&
    a.form === b.form,
);

function MarkerShape(props: Props) {
  const { camera, scale, marker, title, lit, passive, form, onChoose, onBeside } = props;
  const mm = scale / 1000; // metres of model in a millimetre of paper
  const points = marker.line as Place[];
  const [a, b] = [points[0] as Place, points.at(-1) as Place];
  const first = directions(points.slice(0, 2), marker.look);
  const last = directions(points.slice(-2), marker.look);
  const own = marker.style?.shift ?? [0, 0];
  const shift = [own[0] + (own[0] ? 0 : marker.aside[0]), own[1] + (own[1] ? 0 : marker.aside[1])] as const;
  const tips: Ends = [
    shifted(a, first.along, -(form.overhang + shift[0]) * mm),
    shifted(b, last.along, (form.overhang + shift[1]) * mm),
  ];
  const heavy: Ends = [
    shifted(tips[0], first.along, form.overhang * mm),
    shifted(tips[1], last.along, -form.overhang * mm),
  ];
  const ends = [
    { name: "first", at: shifted(tips[0], first.along, -form.radius * mm), ...first },
    { name: "last", at: shifted(tips[1], last.along, form.radius * mm), ...last },
  ];
  const section = marker.kind === "section";
  const heads = section
    ? ends.filter((end) => marker.style?.heads === "both" || marker.style?.heads === end.name)
    : [{ name: "middle", at: (marker.at as Place | null) ?? a, ...first }];
  const screen = (p: [number, number]) => toScreen(camera, onPaper(p, scale));
  const { upper, lower } = marker;
  const zoom = Math.max(camera.zoom, 10 / form.radius); // heads stay legible from afar
  const colour = lit ? "var(--ink-cut)" : "#2a3230";
  const line = [screen(tips[0]), screen(heavy[0]), screen(heavy[1]), screen(tips[1])] as const;
  const whole = [tips[0], ...points.slice(1, -1), tips[1]].map(screen).map((p) => `${p.x},${p.y}`);
  const width = lit ? 1.8 : 1.1;
  const dash = form.dash.map((d) => Math.max(d * width, 1)).join(" ");
  return (
    // biome-ignore lint/a11y/useSemanticElements: a button can't stand in an SVG
    <g
      role="button"
      tabIndex={0}
      aria-label={`Marker of ${title}: ${upper} over ${lower}`}
      aria-pressed={lit}
      data-marker={marker.drawing}
      className={passive ? "pointer-events-none opacity-40" : "pointer-events-auto cursor-pointer"}
      stroke={colour}
      fill="none"
      strokeLinecap="round"
      onClick={(event) => {
        event.stopPropagation();
        (event.altKey ? onBeside : onChoose)(marker.drawing);
      }}
      onKeyDown={(event) => {
        if (event.key === "Enter") (event.altKey ? onBeside : onChoose)(marker.drawing);
      }}
    >
      <title>{`${title} (Alt-click shows it in the other pane)`}</title>
      {section && (
        <>
          <polyline points={whole.join(" ")} stroke="transparent" strokeWidth={12} />
          <polyline
            points={whole.join(" ")}
            strokeWidth={width}
            strokeDasharray={dash}
            strokeOpacity={marker.style?.open_middle && !lit ? 0.25 : 1}
          />
          <line x1={line[0].x} y1={line[0].y} x2={line[1].x} y2={line[1].y} strokeWidth={2.6} />
          <line x1={line[2].x} y1={line[2].y} x2={line[3].x} y2={line[3].y} strokeWidth={2.6} />
          {points.slice(1, -1).map((p, k) => {
            const key = `corner ${k + 1}`;
            const [before, after] = [points[k] as Place, points[k + 2] as Place];
            const reach = Math.max(form.corner * mm, 6 / camera.zoom / (1000 / scale));
            const ends = [towards(p, before, reach), p, towards(p, after, reach)].map(screen);
            return (
              <polyline key={key} points={ends.map((q) => `${q.x},${q.y}`).join(" ")} strokeWidth={2.6} />
            );
          })}
        </>
      )}
      {heads.map(({ name, at: place, along, look }) => {
        const at = screen(place);
        const turned = ([x, y]: Place): Place => {
          const p = { x: along[0] * x + look[0] * y, y: along[1] * x + look[1] * y };
          const q = turnedBy(camera.turn, p);
          return [q.x, q.y];
        };
        const fills = { pen: colour, ground: "#ffffff", none: "none" } as const;
        return (
          // coordinates are written out: hundreds of transforms would cost the browser more than the drawing
          <g key={name}>
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

type LayerProps = Pick<Props, "camera" | "scale" | "form" | "onChoose" | "onBeside"> & {
  markers: Marker[];
  titles: Map<number, string>;
  lit?: number;
  passive?: boolean;
};

/** All markers of a drawing; what they do when they are clicked never changes. */
export const MarkerLayer = memo(
  Layer,
  (a, b) =>
    a.camera === b.camera &&
    a.scale === b.scale &&
    a.form === b.form &&
    a.markers === b.markers &&
    a.titles === b.titles &&
    a.lit === b.lit &&
    a.passive === b.passive,
);

const NONE: Marker[] = [];

/** Linework is painted first, and markers are drawn anew when there is time: a plan may have hundreds of them. */
function Layer({ markers, titles, lit, ...props }: LayerProps) {
  return useDeferredValue(markers, NONE).map((marker, k) => (
    <DrawingMarker
      // a section may cross a drawing several times
      // biome-ignore lint/suspicious/noArrayIndexKey: together with the drawing it tells crossings apart
      key={`${marker.drawing} ${k}`}
      marker={marker}
      title={titles.get(marker.drawing) ?? ""}
      lit={marker.drawing === lit}
      {...props}
    />
  ));
}
