import type { Region } from "../../api/client";
import type { Place } from "../../desk/mode";
import { type Camera, type Spot, toScreen } from "../../drawing/camera";
import { Grip } from "../../drawing/canvas/Grip";
import { distance, onModel, onPaper, rounded } from "../cutting/plan-geometry";
import { moved, outlineOf } from "./region-geometry";

type Props = {
  camera: Camera;
  scale: number;
  region: Region;
  onChange: (region: Region) => void;
  onDrop: () => void;
};
const COLOUR = "var(--ink-callout)";

/** The region of the chosen callout in the drawing that it was called out from: dragged whole or by its corners. */
export function RegionGrips({ camera, scale, region, onChange, onDrop }: Props) {
  const points = region.points as Place[];
  const ring = outlineOf(region);
  const us = ring.map((p) => p[0]);
  const vs = ring.map((p) => p[1]);
  const middle: Place = [(Math.min(...us) + Math.max(...us)) / 2, (Math.min(...vs) + Math.max(...vs)) / 2];
  const set = (next: Place[]) => onChange({ ...region, points: next.map(rounded) });
  const corners: { label: string; at: Place; drag: (to: Place) => Place[] }[] =
    region.shape === "circle"
      ? [{ label: "Region: radius", at: points[1] as Place, drag: (to) => [points[0] as Place, to] }]
      : region.shape === "polygon"
        ? points.map((at, k) => ({
            label: `Region: corner ${k + 1}`,
            at,
            drag: (to) => points.map((p, i) => (i === k ? to : p)),
          }))
        : ring.map((at, k) => ({
            label: `Region: corner ${k + 1}`,
            at,
            drag: (to) => [ring[(k + 2) % 4] as Place, to],
          }));
  return (
    <g>
      <Outline camera={camera} scale={scale} ring={ring} />
      <Grip
        camera={camera}
        at={onPaper(middle, scale)}
        label="Region: move"
        colour={COLOUR}
        shape="diamond"
        onDrag={(paper: Spot) => {
          const to = onModel(paper, scale);
          set(moved(points, [to[0] - middle[0], to[1] - middle[1]]));
        }}
        onDrop={onDrop}
      />
      {corners.map(({ label, at, drag }) => (
        <Grip
          key={label}
          camera={camera}
          at={onPaper(at, scale)}
          label={label}
          colour={COLOUR}
          shape="square"
          onDrag={(paper: Spot) => {
            const next = drag(onModel(paper, scale));
            if (hasSize(next, region.shape)) set(next);
          }}
          onDrop={onDrop}
        />
      ))}
    </g>
  );
}

const LEAST = 0.05; // metres; a region is not dragged smaller

function hasSize(points: Place[], shape: Region["shape"]): boolean {
  const [a, b] = points as [Place, Place];
  if (shape === "circle") return distance(a, b) > LEAST;
  if (shape === "polygon") return true;
  return Math.abs(a[0] - b[0]) > LEAST && Math.abs(a[1] - b[1]) > LEAST;
}

type OutlineProps = { camera: Camera; scale: number; ring: Place[]; open?: boolean };

/** A ring over a drawing, as regions are. */
export function Outline({ camera, scale, ring, open }: OutlineProps) {
  const spots = ring.map((p) => toScreen(camera, onPaper(p, scale)));
  const path = spots.map((p, k) => `${k === 0 ? "M" : "L"}${p.x} ${p.y}`).join("");
  return (
    <path
      d={open ? path : `${path}Z`}
      fill={COLOUR}
      fillOpacity={0.07}
      stroke={COLOUR}
      strokeWidth={1.6}
      pointerEvents="none"
    />
  );
}
