import type { Drawing, SectionCut, Settings } from "../api/client";
import { type Camera, toScreen } from "../drawing/camera";
import { directions, onPaper, shifted } from "./plan-geometry";

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
  const { along, look } = directions(cut.line, cut.look);
  const [a, b] = cut.line as [[number, number], [number, number]];
  const tips = [shifted(a, along, -rule.overhang * mm), shifted(b, along, rule.overhang * mm)] as const;
  const heads = [
    shifted(tips[0], along, -rule.head_radius * mm),
    shifted(tips[1], along, rule.head_radius * mm),
  ] as const;
  const screen = (p: [number, number]) => toScreen(camera, onPaper(p, scale));
  const [upper, lower] = drawing.placement
    ? [drawing.placement.number, drawing.placement.sheet_number]
    : [drawing.letter, "–"];
  const r = Math.max(rule.head_radius * camera.zoom, 10);
  const colour = lit ? "var(--ink-cut)" : "#2a3230";
  const line = [screen(tips[0]), screen(a), screen(b), screen(tips[1])] as const;
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
      <line
        x1={line[0].x}
        y1={line[0].y}
        x2={line[3].x}
        y2={line[3].y}
        stroke="transparent"
        strokeWidth={12}
      />
      <line
        x1={line[0].x}
        y1={line[0].y}
        x2={line[3].x}
        y2={line[3].y}
        strokeWidth={lit ? 1.8 : 1.1}
        strokeDasharray={dash}
      />
      <line x1={line[0].x} y1={line[0].y} x2={line[1].x} y2={line[1].y} strokeWidth={2.6} />
      <line x1={line[2].x} y1={line[2].y} x2={line[3].x} y2={line[3].y} strokeWidth={2.6} />
      {heads.map((head, index) => {
        const at = screen(head);
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

/** Size of a text that must fit into the half circle. */
const fitted = (text: string, r: number, share: number) =>
  Math.min(r * share, (r * 2.9) / Math.max(2, text.length));
