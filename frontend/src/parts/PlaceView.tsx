import { type PointerEvent, useRef } from "react";
import type { PlacePicture } from "../api/client";
import { type Box, boundsOf, grown, nearest, together, type XY } from "./place-picture";

type Shown = "both" | "rest" | "part";
type Props = {
  picture: PlacePicture;
  shown: Shown;
  label: string;
  /** Points that were chosen in it, by name. */
  chosen?: readonly (readonly [name: string, at: XY])[];
  onChoose?: (at: XY) => void;
};

const WIDE = 352;
const HIGH = 220;

/** A part beside the rest of the building, on plan: what is there in grey, the part hatched over it. */
export function PlaceView({ picture, shown, label, chosen = [], onChoose }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const rings = [...(shown === "part" ? [] : picture.rest), ...(shown === "rest" ? [] : picture.part)];
  const box = grown(together(rings.map((r) => boundsOf(r.ring as XY[]))), WIDE / HIGH);
  const size = box[2] - box[0];
  const choose = (event: PointerEvent<SVGSVGElement>) => {
    const matrix = svg.current?.getScreenCTM();
    if (!onChoose || !matrix) return;
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse());
    onChoose(
      nearest(
        rings.map((r) => r.ring as XY[]),
        [at.x, -at.y],
        size / 25,
      ),
    );
  };
  return (
    <svg
      ref={svg}
      role="img"
      aria-label={label}
      viewBox={`${box[0]} ${-box[3]} ${size} ${box[3] - box[1]}`}
      className={`w-full rounded border border-base-300 bg-base-100 ${onChoose ? "cursor-crosshair" : ""}`}
      style={{ aspectRatio: `${WIDE} / ${HIGH}` }}
      onPointerDown={choose}
    >
      <title>{label}</title>
      {shown !== "part" && <Axes axes={picture.axes} size={size} />}
      {shown !== "rest" && <Axes axes={picture.part_axes} size={size} part />}
      {shown !== "part" &&
        picture.rest.map(({ ring }, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: outlines have no names and never move among each other
          <path key={k} d={path(ring as XY[])} className="fill-base-300 stroke-base-content/50" {...line} />
        ))}
      {shown !== "rest" &&
        picture.part.map(({ ring }, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: as above
          <path key={k} d={path(ring as XY[])} className="fill-secondary/25 stroke-secondary" {...line} />
        ))}
      {chosen.map(([name, [x, y]]) => (
        <g key={name} className="fill-primary">
          <circle cx={x} cy={-y} r={size / 90} />
          <text x={x + size / 60} y={-y - size / 60} fontSize={size / 22}>
            {name}
          </text>
        </g>
      ))}
    </svg>
  );
}

const line = { strokeWidth: 1, vectorEffect: "non-scaling-stroke" } as const;

const path = (ring: XY[]) => `M${ring.map(([x, y]) => `${x} ${-y}`).join("L")}Z`;

function Axes({ axes, size, part }: { axes: PlacePicture["axes"]; size: number; part?: boolean }) {
  return (
    <g className={part ? "stroke-secondary/70" : "stroke-base-content/30"}>
      {axes.map(([name, [x0, y0], [x1, y1]], k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: two axes may have one name
        <line key={`${name} ${k}`} x1={x0} y1={-y0} x2={x1} y2={-y1} strokeDasharray={size / 60} {...line} />
      ))}
    </g>
  );
}

/** Storeys of both beside each other, by height. */
export function Levels({ picture }: { picture: PlacePicture }) {
  const { levels, part_levels } = picture;
  if (part_levels.length === 0) return null;
  return (
    <table className="w-full text-xs" aria-label="Storeys of both">
      <thead>
        <tr className="text-left opacity-80">
          <th className="font-normal">Storey of the building</th>
          <th className="font-normal">of this file</th>
        </tr>
      </thead>
      <tbody>
        <tr className="align-top">
          {[levels, part_levels].map((those, k) => (
            <td key={k === 0 ? "building" : "file"}>
              {[...those]
                .sort((a, b) => b[1] - a[1])
                .map(([name, z]) => (
                  <span key={`${name} ${z}`} className="flex justify-between gap-2 pr-3">
                    <span className="truncate">{name}</span>
                    <span className="figures">{z.toFixed(3)}</span>
                  </span>
                ))}
            </td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}

export type { Box };
