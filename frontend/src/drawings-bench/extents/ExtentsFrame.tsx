import { useRef, useState } from "react";
import type { Extents } from "../../api/client";
import type { Place } from "../../desk/mode";
import { type Camera, type Spot, toScreen } from "../../drawing/camera";
import { Grip } from "../../drawing/canvas/Grip";
import type { Frame } from "../../drawing/screen-form";
import { OPEN_EXTENTS, onModel, onPaper, rounded } from "../cutting/plan-geometry";
import { corners } from "./corners-tool";

const LEVEL_REACH = 8; // pixels

type FrameProps = {
  drawing: number;
  camera: Camera;
  frame: Frame;
  scale: number;
  extents: Partial<Extents>;
  /** Heights that base and top are drawn to, metres. */
  levels?: { name: string; elevation: number }[];
  onChange: (extents: Extents) => void;
  onDrop: () => void;
};
type Side = "left" | "right" | "base" | "top";

/** Ochre corner ticks, a fine frame, and a grip on each edge. */
export function ExtentsFrame({
  drawing,
  camera,
  frame,
  scale,
  extents,
  levels = [],
  onChange,
  onDrop,
}: FrameProps) {
  const [held, setHeld] = useState("");
  // what is being dragged is ahead of the view that is being cut
  const side = (name: Side, shown: number) =>
    extents[name] == null ? shown : (extents[name] * 1000) / scale;
  const left = side("left", frame[0]);
  const base = side("base", frame[1]);
  const right = side("right", frame[2]);
  const top = side("top", frame[3]);
  const a = toScreen(camera, { x: left, y: top });
  const b = toScreen(camera, { x: right, y: base });
  const tick = 14;
  const ticks = [
    `M${a.x} ${a.y + tick}V${a.y}H${a.x + tick}`,
    `M${b.x - tick} ${a.y}H${b.x}V${a.y + tick}`,
    `M${b.x} ${b.y - tick}V${b.y}H${b.x - tick}`,
    `M${a.x + tick} ${b.y}H${a.x}V${b.y - tick}`,
  ];
  const middle = { x: (left + right) / 2, y: (base + top) / 2 };
  const spots: Record<Side, Spot> = {
    left: { x: left, y: middle.y },
    right: { x: right, y: middle.y },
    base: { x: middle.x, y: base },
    top: { x: middle.x, y: top },
  };
  const least = 0.5;
  const move = (side: Side) => (paper: Spot, _shift: boolean, alt: boolean) => {
    const upright = side === "base" || side === "top";
    const metres = ((upright ? paper.y : paper.x) * scale) / 1000;
    const reach = (LEVEL_REACH / camera.zoom) * (scale / 1000);
    const level = upright && !alt ? levels.find((l) => Math.abs(l.elevation - metres) < reach) : undefined;
    setHeld(level ? `${side} ${level.name}` : "");
    const value = level ? level.elevation : Math.round(metres * 100) / 100;
    const limits = { left: right, right: left, base: top, top: base };
    const other = (limits[side] * scale) / 1000;
    const fits = side === "left" || side === "base" ? value < other - least : value > other + least;
    if (fits) onChange({ ...OPEN_EXTENTS, ...extents, [side]: value });
  };
  return (
    <g>
      <rect
        x={a.x}
        y={a.y}
        width={Math.max(0, b.x - a.x)}
        height={Math.max(0, b.y - a.y)}
        fill="none"
        stroke="var(--ink-extents)"
        strokeOpacity={0.35}
        strokeDasharray="2 4"
        pointerEvents="none"
      />
      <path
        d={ticks.join("")}
        fill="none"
        stroke="var(--ink-extents)"
        strokeWidth={2.2}
        pointerEvents="none"
      />
      {(Object.keys(spots) as Side[]).map((side) => (
        <Grip
          key={side}
          camera={camera}
          at={spots[side]}
          label={`Extents: ${side}`}
          colour="var(--ink-extents)"
          shape="square"
          cursor={side === "left" || side === "right" ? "ew-resize" : "ns-resize"}
          onDrag={move(side)}
          onDrop={() => {
            setHeld("");
            onDrop();
          }}
        />
      ))}
      <Corners {...{ drawing, camera, scale, extents, onChange, onDrop }} />
      {held && (
        <text
          x={(a.x + b.x) / 2 + 12}
          y={(held.startsWith("top") ? a.y : b.y) - 6}
          fontSize={11}
          fill="var(--ink-extents)"
          stroke="var(--film)"
          strokeWidth={3}
          paintOrder="stroke"
          pointerEvents="none"
        >
          level {held.split(" ").slice(1).join(" ")}
        </text>
      )}
    </g>
  );
}

type CornersProps = Omit<FrameProps, "frame" | "levels">;

/** The polygon of the extents: each corner is dragged, and deleted by its key; the middle of a side becomes one. */
function Corners({ drawing, camera, scale, extents, onChange, onDrop }: CornersProps) {
  const mode = corners.useHeld();
  const drawn = mode?.drawing === drawing ? mode.points : null;
  const polygon = (drawn ?? extents.polygon ?? []) as Place[];
  if (polygon.length === 0) return null;
  const spots = polygon.map((p) => toScreen(camera, onPaper(p, scale)));
  const path = spots.map((p, k) => `${k === 0 ? "M" : "L"}${p.x} ${p.y}`).join("");
  const save = (next: Place[]) => onChange({ ...OPEN_EXTENTS, ...extents, polygon: next });
  const remove = (k: number) => {
    if (polygon.length < 4) return;
    save(polygon.filter((_, i) => i !== k));
    onDrop();
  };
  return (
    <g data-polygon={polygon.length}>
      <path
        d={drawn ? path : `${path}Z`}
        fill="none"
        stroke="var(--ink-extents)"
        strokeWidth={1.6}
        pointerEvents="none"
      />
      {drawn?.map((p) => {
        const at = toScreen(camera, onPaper(p, scale));
        return (
          <circle key={p.join()} cx={at.x} cy={at.y} r={4} fill="var(--ink-extents)" pointerEvents="none" />
        );
      })}
      {!drawn &&
        polygon.map((p, k) => (
          // biome-ignore lint/a11y/noStaticElementInteractions: the grip within is the button
          <g
            // biome-ignore lint/suspicious/noArrayIndexKey: a corner is told by its place in the ring
            key={k}
            onKeyDown={(event) => {
              if (event.key !== "Delete" && event.key !== "Backspace") return;
              event.stopPropagation();
              remove(k);
            }}
          >
            <Grip
              camera={camera}
              at={onPaper(p, scale)}
              label={`Corner ${k + 1} of the extents; Delete removes it`}
              colour="var(--ink-extents)"
              onDrag={(paper) => save(polygon.map((q, i) => (i === k ? rounded(onModel(paper, scale)) : q)))}
              onDrop={onDrop}
            />
            <MiddleOfSide {...{ camera, scale, polygon, k, save, onDrop }} />
          </g>
        ))}
    </g>
  );
}

type MiddleProps = {
  camera: Camera;
  scale: number;
  polygon: Place[];
  k: number;
  save: (polygon: Place[]) => void;
  onDrop: () => void;
};

/** The middle of a side, which becomes a corner when it is dragged. */
function MiddleOfSide({ camera, scale, polygon, k, save, onDrop }: MiddleProps) {
  const before = useRef<Place[] | null>(null);
  const [p, q] = [polygon[k] as Place, polygon[(k + 1) % polygon.length] as Place];
  return (
    <Grip
      camera={camera}
      at={onPaper([(p[0] + q[0]) / 2, (p[1] + q[1]) / 2], scale)}
      label={`A new corner after corner ${k + 1}`}
      colour="var(--ink-extents)"
      shape="diamond"
      onDrag={(paper) => {
        before.current ??= polygon;
        const whole = before.current;
        save([...whole.slice(0, k + 1), rounded(onModel(paper, scale)), ...whole.slice(k + 1)]);
      }}
      onDrop={() => {
        before.current = null;
        onDrop();
      }}
    />
  );
}
