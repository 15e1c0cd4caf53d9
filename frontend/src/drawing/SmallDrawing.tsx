import { useEffect, useRef } from "react";
import { fit } from "./camera";
import { paint } from "./canvas/paint";
import type { Frame } from "./screen-form";
import { type Spec, useView } from "./use-view";

type Props = { project: number; spec: Spec; width: number; height: number; box?: Frame | null };

/** A small picture of a drawing that need not be saved; of a `box` of it, mm on its paper, or all of it. */
export function SmallDrawing({ project, spec, width, height, box = null }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { view, problem } = useView(project, undefined, spec);
  useEffect(() => {
    if (canvas.current && view) paint(canvas.current, view, fit(box ?? view.frame, width, height, 0, 3));
  }, [view, width, height, box]);
  return (
    <canvas
      ref={canvas}
      className="film shrink-0 border border-base-300"
      data-painted={view ? "yes" : "no"}
      title={problem || undefined}
      style={{ width, height }}
    />
  );
}
