import { useState } from "react";
import type { Placement, Trim } from "../../api/client";
import type { PlacementChange } from "../../api/sheet-acts";
import { type Camera, type Spot, toScreen } from "../../drawing/camera";
import { useDrag } from "./PlacementBox";

const SIZE = 9; // pixels
const TITLE_DROP = 19; // mm below its drawing; what a title that was moved by hand is moved from
const TITLE_RADIUS = 6;
type Side = keyof Trim;
const SIDES: readonly Side[] = ["left", "base", "right", "top"];
const WORDS: Record<Side, string> = { left: "left side", base: "base", right: "right side", top: "top" };

type Props = {
  camera: Camera;
  placement: Placement;
  bubble: Spot | null;
  onChange: (change: PlacementChange) => void;
};

/** Grips of one chosen placement: its sides are taken in to trim it, its title is moved. */
export function PlacementGrips({ camera, placement, bubble, onChange }: Props) {
  const [trimming, setTrimming] = useState<{ side: Side; by: Spot } | null>(null);
  const trim = trimming ? trimmed(placement, trimming.side, trimming.by) : placement.trim;
  const [l, b, r, t] = placement.whole;
  const [left, base, right, top] = [l + trim.left, b + trim.base, r - trim.right, t - trim.top];
  const a = toScreen(camera, { x: left, y: top });
  const c = toScreen(camera, { x: right, y: base });
  return (
    <g>
      {trimming && (
        <rect
          x={a.x}
          y={a.y}
          width={Math.max(0, c.x - a.x)}
          height={Math.max(0, c.y - a.y)}
          fill="none"
          stroke="var(--ink-cut)"
          strokeDasharray="5 3"
        />
      )}
      <SideGrips
        camera={camera}
        box={[left, base, right, top]}
        label={(side) => `Trim the ${side}`}
        onMove={(side, by) => setTrimming({ side, by })}
        onDrop={(side, by) => {
          setTrimming(null);
          if (by) onChange({ trim: trimmed(placement, side, by) });
        }}
      />
      {placement.title.shown && bubble && (
        <TitleGrip camera={camera} placement={placement} bubble={bubble} onChange={onChange} />
      )}
    </g>
  );
}

function trimmed({ trim, whole }: Placement, side: Side, by: Spot): Trim {
  const way = { left: by.x, right: -by.x, base: by.y, top: -by.y }[side];
  const across = side === "left" || side === "right" ? whole[2] - whole[0] : whole[3] - whole[1];
  const other = { left: "right", right: "left", base: "top", top: "base" } as const;
  const most = across - trim[other[side]] - 5;
  return { ...trim, [side]: Math.round(Math.min(most, Math.max(0, trim[side] + way)) * 10) / 10 };
}

type GripProps = {
  camera: Camera;
  at: Spot;
  upright: boolean;
  label: string;
  onMove: (by: Spot) => void;
  onDrop: (by: Spot | null) => void;
};

type SideGripsProps = {
  camera: Camera;
  box: readonly [left: number, base: number, right: number, top: number];
  label: (side: string) => string;
  onMove: (side: Side, by: Spot) => void;
  onDrop: (side: Side, by: Spot | null) => void;
};

/** Grips in the middle of the sides of a box, mm. */
export function SideGrips({ camera, box: [left, base, right, top], label, onMove, onDrop }: SideGripsProps) {
  const a = toScreen(camera, { x: left, y: top });
  const c = toScreen(camera, { x: right, y: base });
  const places: Record<Side, Spot> = {
    left: { x: a.x, y: (a.y + c.y) / 2 },
    right: { x: c.x, y: (a.y + c.y) / 2 },
    base: { x: (a.x + c.x) / 2, y: c.y },
    top: { x: (a.x + c.x) / 2, y: a.y },
  };
  return SIDES.map((side) => (
    <SideGrip
      key={side}
      camera={camera}
      at={places[side]}
      upright={side === "left" || side === "right"}
      label={label(WORDS[side])}
      onMove={(by) => onMove(side, by)}
      onDrop={(by) => onDrop(side, by)}
    />
  ));
}

/** A grip on a side of something, `upright` on an upright one. */
function SideGrip({ camera, at, upright, label, onMove, onDrop }: GripProps) {
  const drag = useDrag(camera, onMove, onDrop);
  return (
    // biome-ignore lint/a11y/useSemanticElements: a button can't stand in an SVG
    <rect
      role="button"
      tabIndex={-1}
      aria-label={label}
      className={`pointer-events-auto ${upright ? "cursor-ew-resize" : "cursor-ns-resize"}`}
      x={at.x - (upright ? SIZE / 3 : SIZE)}
      y={at.y - (upright ? SIZE : SIZE / 3)}
      width={upright ? (2 * SIZE) / 3 : 2 * SIZE}
      height={upright ? 2 * SIZE : (2 * SIZE) / 3}
      rx={2}
      fill="var(--film)"
      stroke="var(--ink-extents)"
      {...drag}
      onClick={(event) => event.stopPropagation()}
    />
  );
}

function TitleGrip({ camera, placement, bubble, onChange }: Props & { bubble: Spot }) {
  const [by, setBy] = useState<Spot>({ x: 0, y: 0 });
  const drag = useDrag(camera, setBy, (gone) => {
    setBy({ x: 0, y: 0 });
    const { title, box } = placement;
    const tidy = (value: number) => Math.round(value * 10) / 10;
    const dx = bubble.x + (gone?.x ?? 0) - box[0] - TITLE_RADIUS;
    const dy = bubble.y + (gone?.y ?? 0) - box[1] + TITLE_DROP;
    if (gone) onChange({ title: { ...title, dx: tidy(dx), dy: tidy(dy) } });
  });
  const at = toScreen(camera, { x: bubble.x + by.x, y: bubble.y + by.y });
  return (
    // biome-ignore lint/a11y/useSemanticElements: a button can't stand in an SVG
    <circle
      role="button"
      tabIndex={-1}
      aria-label="Move the title"
      className="pointer-events-auto cursor-move"
      cx={at.x}
      cy={at.y}
      r={Math.max(TITLE_RADIUS * camera.zoom + 2, 6)}
      fill="var(--ink-extents)"
      fillOpacity={0.12}
      stroke="var(--ink-extents)"
      {...drag}
      onClick={(event) => event.stopPropagation()}
    />
  );
}
