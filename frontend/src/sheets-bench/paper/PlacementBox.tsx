import { type KeyboardEvent, type PointerEvent, useState } from "react";
import type { Placement } from "../../api/client";
import { type Camera, type Spot, toPaper, toScreen } from "../../drawing/camera";

const CLICK = 3; // pixels; less is no move

/** A place on paper under the pointer of an event in the SVG over the sheet. */
export function paperAt(
  camera: Camera,
  event: { clientX: number; clientY: number; currentTarget: SVGElement },
) {
  const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
  return toPaper(camera, { x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) });
}

/** By how much an arrow key moves something: 1 mm, with Shift 10. */
export function nudgeOf({ key, shiftKey }: { key: string; shiftKey: boolean }): Spot | undefined {
  const step = shiftKey ? 10 : 1;
  const ways: Record<string, Spot> = {
    ArrowLeft: { x: -step, y: 0 },
    ArrowRight: { x: step, y: 0 },
    ArrowUp: { x: 0, y: step },
    ArrowDown: { x: 0, y: -step },
  };
  return ways[key];
}

/** What follows a pointer that drags something: the way it has gone, mm, and where it ends. */
export function useDrag(camera: Camera, onMove: (by: Spot) => void, onDrop: (by: Spot | null) => void) {
  const [start, setStart] = useState<Spot | null>(null);
  const by = (event: PointerEvent<SVGElement>) => {
    const at = paperAt(camera, event);
    return { x: at.x - (start?.x ?? at.x), y: at.y - (start?.y ?? at.y) };
  };
  return {
    onPointerDown: (event: PointerEvent<SVGElement>) => {
      if (event.button !== 0) return;
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      setStart(paperAt(camera, event));
    },
    onPointerMove: (event: PointerEvent<SVGElement>) => {
      if (!start) return;
      event.stopPropagation();
      onMove(by(event));
    },
    onPointerUp: (event: PointerEvent<SVGElement>) => {
      if (!start) return;
      const gone = by(event);
      setStart(null);
      onDrop(Math.hypot(gone.x, gone.y) * camera.zoom > CLICK ? gone : null);
    },
  };
}

type Props = {
  camera: Camera;
  placement: Placement;
  title: string;
  chosen: boolean;
  by: Spot;
  onChoose: (more: boolean) => void;
  onMove: (by: Spot) => void;
  onDrop: (by: Spot | null) => void;
  onNudge: (by: Spot) => void;
  onOpen: (paper: Spot) => void;
  onRemove: () => void;
};

type BoxProps = {
  camera: Camera;
  box: readonly number[];
  label: string;
  chosen: boolean;
  drag: ReturnType<typeof useDrag>;
  onPress: (event: PointerEvent) => void;
  onOpen: (paper: Spot) => void;
  onNudge: (by: Spot) => void;
  onRemove: () => void;
  /** What the space key does, if anything. */
  onSpace?: () => void;
};

/** The frame of what stands on a sheet, mm: dragged with the pointer, nudged by 1 mm with the arrow keys (10 with
 * Shift), opened with a double click or Enter. */
export function PaperBox({ camera, box, label, chosen, drag, onPress, onOpen, ...by }: BoxProps) {
  const [left = 0, base = 0, right = 0, top = 0] = box;
  const a = toScreen(camera, { x: left, y: top });
  const keys = (event: KeyboardEvent) => {
    const way = nudgeOf(event);
    if (way) {
      event.preventDefault();
      by.onNudge(way);
    }
    if (event.key === "Enter") onOpen({ x: (left + right) / 2, y: (base + top) / 2 });
    if (event.key === "Delete") by.onRemove();
    if (event.key === " " && by.onSpace) {
      event.preventDefault();
      by.onSpace();
    }
  };
  return (
    // biome-ignore lint/a11y/useSemanticElements: a button can't stand in an SVG
    <rect
      role="button"
      tabIndex={0}
      aria-label={label}
      aria-pressed={chosen}
      className="pointer-events-auto cursor-move"
      x={a.x}
      y={a.y}
      width={Math.max(1, (right - left) * camera.zoom)}
      height={Math.max(1, (top - base) * camera.zoom)}
      fill={chosen ? "var(--ink-extents)" : "transparent"}
      fillOpacity={0.06}
      stroke="var(--ink-extents)"
      strokeOpacity={chosen ? 1 : 0.3}
      strokeWidth={chosen ? 1.6 : 1}
      strokeDasharray={chosen ? undefined : "3 4"}
      {...drag}
      onPointerDown={(event) => {
        drag.onPointerDown(event);
        if (event.button === 0) onPress(event);
      }}
      onClick={(event) => event.stopPropagation()}
      onDoubleClick={(event) => {
        event.stopPropagation();
        onOpen(paperAt(camera, event));
      }}
      onKeyDown={keys}
    />
  );
}

/** A drawing on its sheet; space chooses it with others. */
export function PlacementBox(props: Props) {
  const { camera, placement, title, chosen, by, onChoose, onOpen, onNudge, onRemove } = props;
  const [left, base, right, top] = placement.box;
  const drag = useDrag(camera, props.onMove, props.onDrop);
  return (
    <PaperBox
      camera={camera}
      box={[left + by.x, base + by.y, right + by.x, top + by.y]}
      label={`Placement ${placement.number}: ${title}`}
      chosen={chosen}
      drag={drag}
      onPress={(event) => (!chosen || event.shiftKey) && onChoose(event.shiftKey)}
      onOpen={onOpen}
      onNudge={onNudge}
      onRemove={onRemove}
      onSpace={() => onChoose(true)}
    />
  );
}
