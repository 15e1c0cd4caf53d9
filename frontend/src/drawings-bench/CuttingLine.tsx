import type { SectionCut } from "../api/client";
import { type Camera, type Spot, toScreen } from "../drawing/camera";
import { Grip } from "../drawing/Grip";
import type { Look, Place } from "./bench-state";
import { beside, directions, distance, onModel, onPaper, rounded, shifted, straight } from "./plan-geometry";

const LEAST_DEPTH = 0.1;
const UNLIMITED_BAND = 6; // metres of band drawn for an unlimited depth

/** The band behind a cutting line: fades with distance, its far edge carries ticks. */
export function DepthBand({ camera, scale, cut }: { camera: Camera; scale: number; cut: SectionCut }) {
  const [a, b] = cut.line as [Place, Place];
  const { look } = directions(cut.line, cut.look);
  const depth = cut.depth ?? UNLIMITED_BAND;
  const corners = [a, b, shifted(b, look, depth), shifted(a, look, depth)].map((p) =>
    toScreen(camera, onPaper(p, scale)),
  );
  const [p0, _p1, p2, p3] = corners as [Spot, Spot, Spot, Spot];
  const ticks = Math.max(2, Math.round(Math.hypot(p2.x - p3.x, p2.y - p3.y) / 26));
  const inward = { x: p0.x - p3.x, y: p0.y - p3.y };
  const long = Math.hypot(inward.x, inward.y) || 1;
  return (
    <g pointerEvents="none">
      <defs>
        <linearGradient
          id="depth-fade"
          gradientUnits="userSpaceOnUse"
          x1={p0.x}
          y1={p0.y}
          x2={p3.x}
          y2={p3.y}
        >
          <stop offset="0" stopColor="var(--ink-depth)" stopOpacity="0.26" />
          <stop offset="1" stopColor="var(--ink-depth)" stopOpacity="0.05" />
        </linearGradient>
      </defs>
      <polygon points={corners.map((p) => `${p.x},${p.y}`).join(" ")} fill="url(#depth-fade)" />
      {cut.depth !== null && cut.depth !== undefined && (
        <g stroke="var(--ink-depth)" strokeWidth={1.2}>
          <line x1={p2.x} y1={p2.y} x2={p3.x} y2={p3.y} />
          {Array.from({ length: ticks + 1 }, (_, i) => {
            const x = p3.x + ((p2.x - p3.x) * i) / ticks;
            const y = p3.y + ((p2.y - p3.y) * i) / ticks;
            const size = i === 0 || i === ticks ? 9 : 5;
            const key = `tick ${i}`;
            return (
              <line
                key={key}
                x1={x}
                y1={y}
                x2={x + (inward.x / long) * size}
                y2={y + (inward.y / long) * size}
              />
            );
          })}
        </g>
      )}
    </g>
  );
}

type Props = {
  camera: Camera;
  scale: number;
  cut: SectionCut;
  onChange: (cut: SectionCut) => void;
  onDrop: () => void;
};

/** Grips of the lit cutting line: ends, middle, depth. */
export function CuttingLineGrips({ camera, scale, cut, onChange, onDrop }: Props) {
  const [a, b] = cut.line as [Place, Place];
  const middle: Place = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  const { look } = directions(cut.line, cut.look);
  const shownDepth = cut.depth ?? UNLIMITED_BAND;

  const moveEnd = (index: 0 | 1) => (paper: Spot, shift: boolean) => {
    const other = index === 0 ? b : a;
    const p = onModel(paper, scale);
    const end = rounded(shift ? straight(other, p) : p);
    if (distance(end, other) < 0.05) return;
    onChange({ ...cut, line: index === 0 ? [end, b] : [a, end] });
  };
  const moveAll = (paper: Spot) => {
    const p = onModel(paper, scale);
    const by: Place = [p[0] - middle[0], p[1] - middle[1]];
    onChange({
      ...cut,
      line: [rounded([a[0] + by[0], a[1] + by[1]]), rounded([b[0] + by[0], b[1] + by[1]])],
    });
  };
  const moveDepth = (paper: Spot) => onChange({ ...cut, ...sideAndDepth(a, b, onModel(paper, scale)) });

  const grip = { camera, onDrop, colour: "var(--ink-cut)" };
  return (
    <g>
      <Grip
        {...grip}
        at={onPaper(middle, scale)}
        label="Move the cutting line"
        shape="square"
        cursor="move"
        onDrag={moveAll}
      />
      <Grip {...grip} at={onPaper(a, scale)} label="First end of the cutting line" onDrag={moveEnd(0)} />
      <Grip {...grip} at={onPaper(b, scale)} label="Second end of the cutting line" onDrag={moveEnd(1)} />
      <Grip
        {...grip}
        at={onPaper(shifted(middle, look, shownDepth), scale)}
        label={cut.depth == null ? "Depth: unlimited; drag to limit it" : "Depth"}
        colour="var(--ink-depth)"
        shape="diamond"
        onDrag={moveDepth}
      />
    </g>
  );
}

/** Look direction and depth from a point beside a line. */
export function sideAndDepth(a: Place, b: Place, p: Place): { look: Look; depth: number } {
  const side = beside(a, b, p);
  return {
    look: side >= 0 ? "left" : "right",
    depth: Math.max(LEAST_DEPTH, Math.round(Math.abs(side) * 100) / 100),
  };
}
