import type { Marker, SectionCut } from "../../api/client";
import type { Look } from "../../desk/drawings-state";
import { type Place, useMode } from "../../desk/mode";
import { type Camera, type Spot, toScreen } from "../../drawing/camera";
import { Grip } from "../../drawing/canvas/Grip";
import {
  alongLine,
  beside,
  directions,
  distance,
  type Leg,
  legsOf,
  onModel,
  onPaper,
  rounded,
  shifted,
  straight,
} from "./plan-geometry";
import type { Snapper } from "./snaps";

const LEAST_DEPTH = 0.1;
const UNLIMITED_BAND = 6; // metres of band drawn for an unlimited depth

/** The band behind each leg of a cutting line: fades with distance, its far edge carries ticks. */
export function DepthBand({ camera, scale, cut }: { camera: Camera; scale: number; cut: SectionCut }) {
  return (
    <>
      {legsOf(cut).map((leg, index) => {
        const key = `leg ${index}`;
        return <LegBand key={key} {...{ camera, scale, leg, index }} look={cut.look} />;
      })}
      <CropTicks {...{ camera, scale, cut }} />
    </>
  );
}

/** Where the extents of the section begin and end along its line. */
function CropTicks({ camera, scale, cut }: { camera: Camera; scale: number; cut: SectionCut }) {
  const places = [cut.extents?.left, cut.extents?.right].filter((at) => at != null);
  return places.map((at) => {
    const [a, b] = [-0.25, 0.25].map((off) => toScreen(camera, onPaper(alongLine(cut, at, off), scale))) as [
      Spot,
      Spot,
    ];
    return (
      <line
        key={at}
        data-crop={at}
        x1={a.x}
        y1={a.y}
        x2={b.x}
        y2={b.y}
        stroke="var(--ink-extents)"
        strokeWidth={3}
        pointerEvents="none"
      />
    );
  });
}

type BandProps = { camera: Camera; scale: number; leg: Leg; look: Look; index: number };

function LegBand({ camera, scale, leg, look: side, index }: BandProps) {
  const { a, b } = leg;
  const { look } = directions([a, b], side);
  const depth = leg.depth ?? UNLIMITED_BAND;
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
          id={`depth-fade-${index}`}
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
      <polygon points={corners.map((p) => `${p.x},${p.y}`).join(" ")} fill={`url(#depth-fade-${index})`} />
      {leg.depth !== null && (
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
  /** What shows of the line: its ends are held where that ends. */
  pieces: Marker["pieces"];
  snapper: Snapper;
  onChange: (cut: SectionCut) => void;
  onDrop: () => void;
};

export const SNAP_REACH = 10; // pixels

/** Grips of the lit cutting line: ends, corners, middle, depth. Corners of a step move along with it. */
export function CuttingLineGrips({ camera, scale, cut, pieces, snapper, onChange, onDrop }: Props) {
  const setSnap = useMode((s) => s.setSnap);
  const reach = (SNAP_REACH / camera.zoom) * (scale / 1000); // metres
  const points = cut.line as Place[];
  const [a, b] = [points[0] as Place, points[1] as Place];
  const last = points.length - 1;
  const [start, end] = [pieces[0]?.line[0] ?? a, pieces.at(-1)?.line.at(-1) ?? (points[last] as Place)];
  const middle: Place = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  const { along, look } = directions(cut.line, cut.look);
  const shownDepth = legsOf(cut)[0]?.depth ?? UNLIMITED_BAND;

  const moveEnd = (index: number) => (paper: Spot, shift: boolean, alt: boolean) => {
    const other = points[index === 0 ? 1 : last - 1] as Place;
    const free = onModel(paper, scale);
    const stepped = points.length > 2;
    const snap = alt || shift ? null : snapper.find(free, reach, other);
    const p = snap?.at ?? free;
    setSnap(snap);
    const onLeg: Place = [
      other[0] + along[0] * dot(p, other, along),
      other[1] + along[1] * dot(p, other, along),
    ];
    const end = rounded(stepped && cut.corners === "steps" ? onLeg : shift ? straight(other, p) : p);
    if (distance(end, other) < 0.05) return;
    onChange({ ...cut, line: points.map((q, k) => (k === index ? end : q)) });
  };
  const moveCorner = (index: number) => (paper: Spot) => {
    const p = onModel(paper, scale);
    if (cut.corners === "turns" || !squareAt(points, index)) {
      const line = points.map((q, k) => (k === index ? rounded(p) : q));
      if (line.every((q, k) => k === 0 || distance(q as Place, line[k - 1] as Place) > 0.05))
        onChange({ ...cut, line });
      return;
    }
    // a step moves along the line with both of its corners, and its far side moves everything behind it
    const first = index % 2 === 1 ? index : index - 1;
    const [c, d] = [points[first] as Place, points[first + 1] as Place];
    const run = dot(p, index % 2 === 1 ? c : d, along);
    const across = index % 2 === 1 ? 0 : dot(p, d, look);
    const line = points.map((q, k) => {
      if (k === first) return rounded(shifted(q, along, run));
      if (k === first + 1) return rounded(shifted(shifted(q, along, run), look, across));
      return k > first + 1 ? rounded(shifted(q, look, across)) : q;
    });
    const size = Math.abs(dot(line[first + 1] as Place, line[first] as Place, look));
    const free = line.every((q, k) => k === 0 || distance(q as Place, line[k - 1] as Place) > 0.05);
    if (size > 0.05 && free) onChange({ ...cut, line });
  };
  const moveAll = (paper: Spot, _shift: boolean, alt: boolean) => {
    const p = onModel(paper, scale);
    const by: Place = [p[0] - middle[0], p[1] - middle[1]];
    const moved = points.map((q): Place => [q[0] + by[0], q[1] + by[1]]);
    const snap = alt || points.length > 2 ? null : snapper.across(moved, reach);
    const left = directions(cut.line, "left").look;
    const line = snap ? moved.map((q) => shifted(q, left, snap.by)) : moved;
    setSnap(snap && { at: shifted(p, left, snap.by), word: snap.word });
    onChange({ ...cut, line: line.map(rounded) });
  };
  const moveDepth = (paper: Spot) => {
    const { look: side, depth } = sideAndDepth(a, b, onModel(paper, scale));
    const depths = cut.depths?.length ? cut.depths.map((d, k) => (k === 0 ? depth : d)) : [];
    onChange({ ...cut, look: side, ...(depths.length ? { depths } : { depth }) });
  };

  const drop = () => {
    setSnap(null);
    onDrop();
  };
  const grip = { camera, onDrop: drop, colour: "var(--ink-cut)" };
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
      <Grip {...grip} at={onPaper(start, scale)} label="First end of the cutting line" onDrag={moveEnd(0)} />
      <Grip
        {...grip}
        at={onPaper(end, scale)}
        label="Second end of the cutting line"
        onDrag={moveEnd(last)}
      />
      {points.slice(1, -1).map((p, k) => {
        const key = `corner ${k + 1}`;
        return (
          <Grip
            key={key}
            {...grip}
            at={onPaper(p, scale)}
            label={`Corner ${k + 1} of the cutting line`}
            onDrag={moveCorner(k + 1)}
          />
        );
      })}
      <Grip
        {...grip}
        at={onPaper(shifted(middle, look, shownDepth), scale)}
        label={legsOf(cut)[0]?.depth == null ? "Depth: unlimited; drag to limit it" : "Depth"}
        colour="var(--ink-depth)"
        shape="diamond"
        onDrag={moveDepth}
      />
    </g>
  );
}

const dot = (p: Place, from: Place, d: Place) => (p[0] - from[0]) * d[0] + (p[1] - from[1]) * d[1];

/** Whether the corners of a line come in pairs of right angles, as steps make them. */
function squareAt(points: Place[], index: number): boolean {
  const first = index % 2 === 1 ? index : index - 1;
  const [p, c, d, q] = [points[first - 1], points[first], points[first + 1], points[first + 2]];
  if (!p || !c || !d || !q) return false;
  const [one, two] = [
    dot(d, c, directions([p, c], "left").along),
    dot(d, c, directions([d, q], "left").along),
  ];
  return Math.abs(one) < 0.02 * distance(c, d) && Math.abs(two) < 0.02 * distance(c, d);
}

/** Look direction and depth from a point beside a line. */
export function sideAndDepth(a: Place, b: Place, p: Place): { look: Look; depth: number } {
  const side = beside(a, b, p);
  return {
    look: side >= 0 ? "left" : "right",
    depth: Math.max(LEAST_DEPTH, Math.round(Math.abs(side) * 100) / 100),
  };
}
