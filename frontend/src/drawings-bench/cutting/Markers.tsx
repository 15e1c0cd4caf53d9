import { memo, useDeferredValue } from "react";
import type { Marker, Settings } from "../../api/client";
import type { Place } from "../../desk/mode";
import { type Camera, toScreen, turnedBy } from "../../drawing/camera";
import { corners, laid } from "./marker-geometry";
import { directions, onPaper } from "./plan-geometry";

type Props = {
  camera: Camera;
  scale: number;
  marker: Marker;
  /** The drawing that it leads to. */
  title: string;
  lit: boolean;
  /** Whether something else is being drawn over it, and it stands back. */
  passive: boolean;
  faint: boolean;
  form: Settings["marker"];
  onChoose: (drawing: number) => void;
  onBeside: (drawing: number) => void;
};
const LEAST = 6; // pixels that the heavy part of a corner is long at least

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
    a.faint === b.faint &&
    a.form === b.form,
);

function MarkerShape(props: Props) {
  const { camera, scale, marker, title, lit, passive, faint, form, onChoose, onBeside } = props;
  const pieces = marker.pieces.map((piece) => laid(piece, marker, form, scale / 1000));
  const section = marker.kind === "section";
  const first = directions((marker.line as Place[]).slice(0, 2), marker.look);
  const middle = { name: "middle", at: (marker.at ?? marker.line[0]) as Place, ...first };
  const heads = section ? pieces.flatMap((piece) => piece.heads) : [middle];
  const screen = (p: [number, number]) => toScreen(camera, onPaper(p, scale));
  const { upper, lower } = marker;
  const zoom = Math.max(camera.zoom, 10 / form.radius); // heads stay legible from afar
  const colour = lit ? "var(--ink-cut)" : "#2a3230";
  const width = lit ? 1.8 : 1.1;
  const drawn = (places: Place[]) =>
    places
      .map(screen)
      .map((p) => `${p.x},${p.y}`)
      .join(" ");
  const dash = form.dash.map((d) => Math.max(d * width, 1)).join(" ");
  return (
    // biome-ignore lint/a11y/useSemanticElements: a button can't stand in an SVG
    <g
      role="button"
      tabIndex={0}
      aria-label={`Marker of ${title}: ${upper} over ${lower}`}
      aria-pressed={lit}
      data-marker={marker.drawing}
      className={`${passive ? "pointer-events-none" : "pointer-events-auto cursor-pointer"} ${faint ? "opacity-40" : ""}`}
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
      {section &&
        pieces.map(({ whole, heavy }) => (
          <g key={drawn(whole)}>
            <polyline points={drawn(whole)} stroke="transparent" strokeWidth={12} />
            <polyline
              points={drawn(whole)}
              strokeWidth={width}
              strokeDasharray={dash}
              strokeOpacity={marker.style?.open_middle && !lit ? 0.25 : 1}
            />
            {[
              ...heavy,
              ...corners(
                whole,
                Math.max((form.corner * scale) / 1000, ((LEAST / camera.zoom) * scale) / 1000),
              ),
            ].map((stroke) => (
              <polyline key={drawn(stroke)} points={drawn(stroke)} strokeWidth={2.6} />
            ))}
          </g>
        ))}
      {heads.map(({ name, at: place, along, look }) => {
        const at = screen(place);
        const turned = ([x, y]: Place): Place => {
          const p = { x: along[0] * x + look[0] * y, y: along[1] * x + look[1] * y };
          const q = turnedBy(camera.turn, p);
          return [q.x, q.y];
        };
        const fills = { pen: colour, ground: "#ffffff", clear: "#ffffff", none: "none" } as const;
        return (
          // coordinates are written out: hundreds of transforms would cost the browser more than the drawing
          <g key={name}>
            {(form.heads[marker.style?.head ?? form.usual] ?? []).map((shape) => {
              const points = (shape.points as Place[])
                .map((p) => (shape.turns ? turned(p) : p))
                .map(([x, y]) => `${at.x + x * zoom},${at.y - y * zoom}`)
                .join(" ");
              const Path = shape.closed ? "polygon" : "polyline";
              const stroke = shape.fill === "pen" || shape.fill === "clear" ? "none" : colour;
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

type LayerProps = Pick<Props, "camera" | "scale" | "form" | "passive" | "faint" | "onChoose" | "onBeside"> & {
  markers: Marker[];
  titles: Map<number, string>;
  lit?: number;
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
    a.passive === b.passive &&
    a.faint === b.faint,
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
