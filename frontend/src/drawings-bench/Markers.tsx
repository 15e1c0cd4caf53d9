import type { Drawing, SectionCut, Settings } from "../api/client";
import { type Camera, toScreen } from "../drawing/camera";
import type { Place } from "./bench-state";
import { directions, distance, onPaper, shifted } from "./plan-geometry";

type Props = {
  camera: Camera;
  scale: number;
  drawing: Drawing;
  cut: SectionCut;
  lit: boolean;
  rule: Settings["marker"];
  onChoose: () => void;
  onOpen: () => void;
};

/** A cutting line with its heads: number over sheet where placed, else the letter over a dash. */
export function SectionMarker({ camera, scale, drawing, cut, lit, rule, onChoose, onOpen }: Props) {
  const mm = scale / 1000; // metres of model in a millimetre of paper
  const points = cut.line as Place[];
  const [a, b] = [points[0] as Place, points.at(-1) as Place];
  const first = directions(points.slice(0, 2), cut.look);
  const last = directions(points.slice(-2), cut.look);
  const tips = [
    shifted(a, first.along, -rule.overhang * mm),
    shifted(b, last.along, rule.overhang * mm),
  ] as const;
  const heads = [
    { at: shifted(tips[0], first.along, -rule.head_radius * mm), ...first },
    { at: shifted(tips[1], last.along, rule.head_radius * mm), ...last },
  ] as const;
  const screen = (p: [number, number]) => toScreen(camera, onPaper(p, scale));
  const [upper, lower] = drawing.placement
    ? [drawing.placement.number, drawing.placement.sheet_number]
    : [drawing.letter, "–"];
  const r = Math.max(rule.head_radius * camera.zoom, 10);
  const colour = lit ? "var(--ink-cut)" : "#2a3230";
  const line = [screen(tips[0]), screen(a), screen(b), screen(tips[1])] as const;
  const whole = [tips[0], ...points, tips[1]].map(screen).map((p) => `${p.x},${p.y}`);
  const dash = [8, 1.5, 0.5, 1.5].map((d) => Math.max(d * camera.zoom, 1)).join(" ");
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
      <polyline points={whole.join(" ")} strokeWidth={lit ? 1.8 : 1.1} strokeDasharray={dash} />
      <line x1={line[0].x} y1={line[0].y} x2={line[1].x} y2={line[1].y} strokeWidth={2.6} />
      <line x1={line[2].x} y1={line[2].y} x2={line[3].x} y2={line[3].y} strokeWidth={2.6} />
      {points.slice(1, -1).map((p, k) => {
        const key = `corner ${k + 1}`;
        const [before, after] = [points[k] as Place, points[k + 2] as Place];
        const reach = Math.max((rule.overhang / 2) * mm, 6 / camera.zoom / (1000 / scale));
        const ends = [towards(p, before, reach), p, towards(p, after, reach)].map(screen);
        return <polyline key={key} points={ends.map((q) => `${q.x},${q.y}`).join(" ")} strokeWidth={2.6} />;
      })}
      {heads.map(({ at: place, along, look }, index) => {
        const at = screen(place);
        const dx = look[0] * r;
        const dy = -look[1] * r;
        const [ax, ay] = [along[0] * r, -along[1] * r];
        const wedge = [
          [dx * 1.65, dy * 1.65],
          [dx * 0.42 + ax * 0.9, dy * 0.42 + ay * 0.9],
          [dx * 0.42 - ax * 0.9, dy * 0.42 - ay * 0.9],
        ];
        return (
          <g key={index === 0 ? "start" : "end"} transform={`translate(${at.x} ${at.y})`}>
            <polygon points={wedge.map((p) => p.join(",")).join(" ")} fill={colour} stroke="none" />
            <circle r={r} fill="#ffffff" strokeWidth={1.3} />
            <line x1={-r} y1={0} x2={r} y2={0} strokeWidth={1} />
            <g fill={colour} stroke="none" textAnchor="middle" style={{ fontFamily: "Edge Slice Lettering" }}>
              <text y={-r * 0.2} fontSize={fitted(upper, r, 0.75)} className="marker-number">
                {upper}
              </text>
              <text
                y={r * 0.2 + fitted(lower, r, 0.5) * 0.75}
                fontSize={fitted(lower, r, 0.5)}
                className="marker-sheet"
              >
                {lower}
              </text>
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

/** Size of a text that must fit into the half circle. */
const fitted = (text: string, r: number, share: number) =>
  Math.min(r * share, (r * 2.9) / Math.max(2, text.length));
