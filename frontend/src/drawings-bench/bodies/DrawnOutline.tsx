import { useDrawn } from "../../corrections/body";
import { type Camera, toScreen } from "../../drawing/camera";
import { onPaper } from "../cutting/plan-geometry";

/** The outline that was drawn to become a body, until it does. */
export function DrawnOutline({ drawing, camera, scale }: { drawing: number; camera: Camera; scale: number }) {
  const drawn = useDrawn((s) => s.drawn);
  if (drawn?.drawing !== drawing) return null;
  const spots = drawn.outline.map((p) => toScreen(camera, onPaper(p, scale)));
  return (
    <path
      d={`M${spots.map((p) => `${p.x} ${p.y}`).join("L")}${drawn.along ? "" : "Z"}`}
      fill={drawn.along ? "none" : "var(--ink-cut)"}
      fillOpacity={0.1}
      stroke="var(--ink-cut)"
      strokeWidth={1.8}
      pointerEvents="none"
    />
  );
}
