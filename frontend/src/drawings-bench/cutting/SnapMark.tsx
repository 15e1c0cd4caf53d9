import { type Snap, useMode } from "../../desk/mode";
import { type Camera, toScreen } from "../../drawing/camera";
import { onPaper } from "./plan-geometry";

/** What the pointer was drawn to, with its word. */
export function SnapMark({ camera, scale }: { camera: Camera; scale: number }) {
  const snap = useMode((s) => s.snap);
  return snap && <MarkAt camera={camera} scale={scale} snap={snap} />;
}

/** The mark of a place that something was drawn to, with its word. */
export function MarkAt({ camera, scale, snap }: { camera: Camera; scale: number; snap: Snap }) {
  const at = toScreen(camera, onPaper(snap.at, scale));
  return (
    <g data-snap={snap.word} pointerEvents="none" stroke="var(--ink-depth)">
      <path d={`M${at.x - 9} ${at.y}H${at.x + 9}M${at.x} ${at.y - 9}V${at.y + 9}`} strokeWidth={1.5} />
      <text
        x={at.x + 12}
        y={at.y + 16}
        fontSize={12}
        fill="var(--ink-depth)"
        stroke="var(--film)"
        strokeWidth={3}
        paintOrder="stroke"
      >
        {snap.word}
      </text>
    </g>
  );
}
