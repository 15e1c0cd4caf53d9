import { useEffect, useRef, useState } from "react";
import type { Annotation } from "../../api/client";
import type { Camera } from "../../drawing/camera";
import { useLegible } from "../../drawing/canvas/CanvasTools";
import { onLettered } from "../../drawing/canvas/lettering";
import { useNextFrame } from "../../drawing/canvas/use-next-frame";
import { useAnnotate } from "../state";
import { paintShapes, type Shape } from "./shapes";

const LEGIBLE = 12; // pixels

/** The annotations of a drawing on a canvas of their own: one that is dragged moves without the drawing being painted. */
export function AnnotationCanvas({ shapes, camera }: { shapes: Shape[]; camera: Camera }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const dragged = useAnnotate((s) => s.dragged);
  const legible = useLegible((s) => s.legible);
  const [ready, setReady] = useState(0);
  const nextFrame = useNextFrame();
  useEffect(() => onLettered(() => setReady((n) => n + 1)), []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a picture or a face that arrived is painted too
  useEffect(() => {
    nextFrame(() => {
      if (!canvas.current) return;
      const moved = (of: Annotation) =>
        dragged && "versions" in dragged && dragged.versions[of.id] === of.version ? dragged.by : undefined;
      paintShapes(canvas.current, shapes, camera, moved, legible ? LEGIBLE : 0, () => setReady((n) => n + 1));
      canvas.current.dataset.annotations = String(shapes.length);
    });
  }, [nextFrame, shapes, camera, dragged, legible, ready]);
  return <canvas ref={canvas} className="pointer-events-none absolute inset-0 h-full w-full" />;
}
