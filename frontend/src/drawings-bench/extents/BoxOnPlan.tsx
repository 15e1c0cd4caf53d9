import { useState } from "react";
import type { ExtentsBox, SharedExtents } from "../../api/client";
import { report } from "../../api/queries";
import { editBox } from "../../api/shared-extents";
import type { Place } from "../../desk/mode";
import { type Camera, type Spot, toScreen } from "../../drawing/camera";
import { Grip } from "../../drawing/canvas/Grip";
import { onModel, onPaper } from "../cutting/plan-geometry";

type Props = { shared: SharedExtents; camera: Camera; scale: number };
const FACES = [
  ["low", 0, "west"],
  ["high", 0, "east"],
  ["low", 1, "south"],
  ["high", 1, "north"],
] as const;
const LEAST = 0.1; // metres

/** Shared extents on a plan: their outline, and a grip on each upright face. */
export function BoxOnPlan({ shared, camera, scale }: Props) {
  const [dragged, setDragged] = useState<ExtentsBox | null>(null);
  const box = dragged ?? shared.box;
  const angle = ((box.turn ?? 0) * Math.PI) / 180;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const model = ([x, y]: Place): Place => [x * c - y * s, x * s + y * c];
  const own = ([x, y]: Place): Place => [x * c + y * s, -x * s + y * c];
  const [x0, y0] = box.low as [number, number, number];
  const [x1, y1] = box.high as [number, number, number];
  const corners: Place[] = [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
  ];
  const outline = corners.map((p) => toScreen(camera, onPaper(model(p), scale)));
  const spots: Place[] = [
    [x0, (y0 + y1) / 2],
    [x1, (y0 + y1) / 2],
    [(x0 + x1) / 2, y0],
    [(x0 + x1) / 2, y1],
  ];
  const move = (end: "low" | "high", k: 0 | 1) => (paper: Spot) => {
    const value = Math.round((own(onModel(paper, scale))[k] as number) * 100) / 100;
    const other = (end === "low" ? box.high : box.low)[k] as number;
    if (end === "low" ? value > other - LEAST : value < other + LEAST) return;
    const moved = box[end].map((v, i) => (i === k ? value : v)) as ExtentsBox["low"];
    setDragged({ ...box, [end]: moved });
  };
  const drop = () => {
    if (!dragged) return;
    editBox(shared, { box: dragged })
      .catch(report)
      .finally(() => setDragged(null));
  };
  return (
    <g data-box={shared.name}>
      <path
        d={`${outline.map((p, k) => `${k === 0 ? "M" : "L"}${p.x} ${p.y}`).join("")}Z`}
        fill="none"
        stroke="var(--ink-extents)"
        strokeWidth={1.6}
        strokeDasharray="9 4"
        pointerEvents="none"
      />
      <text
        x={(outline[3]?.x ?? 0) + 4}
        y={(outline[3]?.y ?? 0) - 5}
        fontSize={11}
        fill="var(--ink-extents)"
        stroke="var(--film)"
        strokeWidth={3}
        paintOrder="stroke"
        pointerEvents="none"
      >
        {shared.name}
      </text>
      {FACES.map(([end, k, name], index) => (
        <Grip
          key={name}
          camera={camera}
          at={onPaper(model(spots[index] as Place), scale)}
          label={`${shared.name}: ${name} face`}
          colour="var(--ink-extents)"
          shape="square"
          onDrag={move(end, k)}
          onDrop={drop}
        />
      ))}
    </g>
  );
}
