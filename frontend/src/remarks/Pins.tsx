import type { Pin, RemarkState } from "../api/client";
import type { At } from "../api/remarks";
import { type Camera, type Spot, toScreen } from "../drawing/camera";
import { chooseRemark, useRemarking } from "./pinning";

const SIZE = 17; // pixels
/** The colour of a remark by its state. */
export const INK: Record<RemarkState, string> = {
  open: "var(--color-primary)",
  answered: "var(--color-secondary)",
  done: "var(--color-neutral)",
};

/** Where a remark stands on the paper, and the lines of its sketch, mm. */
export type Pinned = { id: number; number: number; state: RemarkState; at: Spot; sketch: readonly Spot[][] };

/** Remarks as they stand on the paper, where `onPaper` has their coordinates. */
export const standing = (pins: readonly Pin[], onPaper: (at: At) => Spot): Pinned[] =>
  pins.map((one) => ({
    ...one,
    id: one.remark,
    at: onPaper(one.at),
    sketch: one.sketch.map((stroke) => stroke.map(onPaper)),
  }));

/** The remarks on what is shown, and the place of the one that is being written. */
export function Pins({
  camera,
  pins,
  draft,
}: {
  camera: Camera;
  pins: readonly Pinned[];
  draft: Spot | null;
}) {
  const chosen = useRemarking((s) => s.chosen);
  return (
    <g>
      {pins.map((pin) => (
        <Strokes
          key={`${pin.id} ${pin.at.x} ${pin.at.y}`}
          camera={camera}
          strokes={pin.sketch}
          ink={INK[pin.state]}
        />
      ))}
      {beside(camera, pins).map(({ pin, aside }) => (
        // biome-ignore lint/a11y/useSemanticElements: buttons of SVG are groups
        <g
          key={`${pin.id} ${pin.at.x} ${pin.at.y}`}
          role="button"
          tabIndex={0}
          aria-label={`Remark ${pin.number}, ${pin.state}`}
          className="cursor-pointer"
          transform={placed(camera, pin.at)}
          onPointerDown={(event) => event.stopPropagation()}
          onClick={() => chooseRemark(pin.id)}
          onKeyDown={(event) => event.key === "Enter" && chooseRemark(pin.id)}
        >
          <Flag ink={INK[pin.state]} strong={chosen === pin.id} aside={aside} />
          <text
            x={aside + SIZE / 2}
            y={-SIZE}
            textAnchor="middle"
            dominantBaseline="central"
            fontSize={10}
            fontWeight={600}
            fill="var(--color-base-100)"
          >
            {pin.number}
          </text>
        </g>
      ))}
      {draft && (
        <g transform={placed(camera, draft)} pointerEvents="none">
          <Flag ink="var(--color-accent)" strong />
        </g>
      )}
    </g>
  );
}

/** The lines of a sketch. */
export function Strokes({
  camera,
  strokes,
  ink,
}: {
  camera: Camera;
  strokes: readonly Spot[][];
  ink: string;
}) {
  return strokes.map((stroke) => {
    const points = stroke.map((spot) => toScreen(camera, spot));
    const line = points.map(({ x, y }) => `${x.toFixed(1)},${y.toFixed(1)}`).join(" ");
    return (
      <polyline
        key={line}
        data-sketch
        points={line}
        fill="none"
        stroke={ink}
        strokeWidth={2}
        strokeLinejoin="round"
        strokeLinecap="round"
        pointerEvents="none"
      />
    );
  });
}

const placed = (camera: Camera, at: Spot) => {
  const { x, y } = toScreen(camera, at);
  return `translate(${x} ${y})`;
};

/** How far aside each flag is, pixels: of several at the same place each hides none of the others. */
function beside(camera: Camera, pins: readonly Pinned[]): { pin: Pinned; aside: number }[] {
  const taken: Spot[] = [];
  return pins.map((pin) => {
    const { x, y } = toScreen(camera, pin.at);
    let aside = 0;
    while (taken.some((flag) => Math.abs(flag.x - x - aside) < SIZE && Math.abs(flag.y - y) < SIZE))
      aside += SIZE + 1;
    taken.push({ x: x + aside, y });
    return { pin, aside };
  });
}

/** A flag whose pole stands on the place, or `aside` of others that stand there. */
function Flag({ ink, strong, aside = 0 }: { ink: string; strong: boolean; aside?: number }) {
  return (
    <>
      <line x1={0} y1={0} x2={0} y2={-SIZE * 1.5} stroke={ink} strokeWidth={strong ? 2.5 : 1.5} />
      <rect
        x={aside}
        y={-SIZE * 1.5}
        width={SIZE}
        height={SIZE}
        fill={ink}
        stroke="var(--color-base-100)"
        strokeWidth={strong ? 0 : 1}
      />
    </>
  );
}
