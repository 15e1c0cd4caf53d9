import type { CameraControls } from "@react-three/drei";
import { useCallback, useEffect, useRef } from "react";
import type { Drawing, DrawingPlanes, SharedExtents, Solid, Viewpoint } from "../../api/client";
import { useModelBench } from "../../model/model-state";
import type { Plane, V3 } from "../../model/opening/opening";
import { planeOf } from "../../model/opening/plane-geometry";
import { eyeOf, lookBy } from "../../model/view/view-acts";
import { differing, type Eye, looksOf, openedBy } from "../../model/viewpoints/seen";
import { beginOf } from "../../model/viewpoints/way";
import { travelling } from "./travelling";

type Bench = {
  solid: Solid | undefined;
  planes: DrawingPlanes[];
  drawings: Drawing[];
  boxes: SharedExtents[];
  controls: { current: CameraControls | null };
};

/** The way to a viewpoint: the eye goes there, and the plane that opens the model slides to its place. At once where
 * that is wanted, or where somebody's machine asks for no motion. */
export function useTravel(bench: Bench) {
  const latest = useRef(bench);
  latest.current = bench;
  const breakOff = useRef<() => void>(() => undefined);
  useEffect(() => () => breakOff.current(), []);
  return useCallback((viewpoint: Viewpoint, atOnce: boolean) => {
    const { solid, planes, drawings, boxes, controls } = latest.current;
    const c = controls.current;
    if (!solid || !c) return;
    breakOff.current();
    const { set, ...before } = useModelBench.getState();
    const opened = openedBy(viewpoint.seen, new Set(drawings.map((d) => d.id)), boxes);
    const end = { ...opened, viewpoint: viewpoint.id, coming: null };
    const to = viewpoint.seen.eye as Eye;
    set(differing(useModelBench.getState(), looksOf(viewpoint.seen)));
    if (atOnce || window.matchMedia("(prefers-reduced-motion: reduce)").matches) {
      set(end);
      afterNextFrame(() => lookBy(c, to));
      return;
    }
    const planeIn = (id: number | null) => straightCut(planes, id, solid);
    const sliding = opened.plane ?? planeIn(opened.drawing);
    const was = before.plane ?? planeIn(before.drawing);
    const begin = sliding ? beginOf(sliding, was, solid.low as V3, solid.high as V3) : 0;
    const coming = sliding && { plane: opened.plane, drawing: opened.plane ? null : opened.drawing };
    set(sliding ? { ...end, drawing: null, thickness: null, coming } : end);
    breakOff.current = travelling(c, { from: eyeOf(c), to, sliding, begin, end });
  }, []);
}

/** The plane of a drawing with one straight cut; none of others. */
function straightCut(planes: DrawingPlanes[], drawing: number | null, solid: Solid): Plane | null {
  const leaves = planes.find((p) => p.drawing === drawing)?.leaves ?? [];
  return leaves.length === 1 && leaves[0] ? planeOf(leaves[0], solid) : null;
}

/** A change between flat and perspective is made in the frame before. */
function afterNextFrame(act: () => void) {
  requestAnimationFrame(() => requestAnimationFrame(act));
}
