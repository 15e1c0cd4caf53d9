import type { CameraControls } from "@react-three/drei";
import { useCallback, useEffect, useRef } from "react";
import type { Drawing, DrawingPlanes, SharedExtents, Solid, Viewpoint } from "../../api/client";
import { useModelBench } from "../../model/model-state";
import type { Plane, V3 } from "../../model/opening/opening";
import { planeOf } from "../../model/opening/plane-geometry";
import { eyeOf, lookBy } from "../../model/view/view-acts";
import { differing, type Eye, looksOf, openedBy } from "../../model/viewpoints/seen";
import { beginOf, between, paced, slid } from "../../model/viewpoints/way";

const TAKES = 1400; // ms that the way to a viewpoint takes

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
  const under = useRef(0);
  useEffect(() => () => cancelAnimationFrame(under.current), []);
  return useCallback((viewpoint: Viewpoint, atOnce: boolean) => {
    const { solid, planes, drawings, boxes, controls } = latest.current;
    const c = controls.current;
    if (!solid || !c) return;
    cancelAnimationFrame(under.current);
    const { set, ...before } = useModelBench.getState();
    const known = new Set(drawings.map((d) => d.id));
    const opened = openedBy(viewpoint.seen, known, boxes);
    const end = { ...opened, viewpoint: viewpoint.id, coming: null };
    const eye = viewpoint.seen.eye as Eye;
    const still = atOnce || window.matchMedia("(prefers-reduced-motion: reduce)").matches;
    set(differing(useModelBench.getState(), looksOf(viewpoint.seen)));
    if (still) {
      set(end);
      afterNextFrame(() => lookBy(c, eye));
      return;
    }
    const planeIn = (id: number | null): Plane | null => {
      const leaves = planes.find((p) => p.drawing === id)?.leaves ?? [];
      return leaves.length === 1 && leaves[0] ? planeOf(leaves[0], solid) : null;
    };
    const sliding = opened.plane ?? planeIn(opened.drawing);
    const from = eyeOf(c);
    const was = before.plane ?? planeIn(before.drawing);
    const begin = sliding && beginOf(sliding, was, solid.low as V3, solid.high as V3);
    let mine: Plane | null = null; // the plane as it was set here last
    const slide = (share: number) => {
      if (!sliding) return;
      mine = slid(sliding, begin ?? 0, share);
      set({ plane: mine });
    };
    if (!sliding) set(end);
    else {
      const coming = { plane: opened.plane, drawing: opened.plane ? null : opened.drawing };
      set({ ...end, drawing: null, thickness: null, coming });
      slide(0);
    }
    let taken = false; // by a hand, which looks elsewhere meanwhile
    const take = () => {
      taken = true;
    };
    c.addEventListener("controlstart", take);
    let started = 0;
    const step = (now: number) => {
      started ||= now;
      const share = Math.min(1, (now - started) / TAKES);
      const come = paced(share, sliding !== null && Math.abs(begin ?? 0) > 1e-6);
      const other = mine !== null && useModelBench.getState().plane !== mine;
      if (!taken) lookBy(c, between(from, eye, come.eye));
      if (other)
        set({ coming: null }); // something else opens the model now
      else if (share >= 1) set(end);
      else {
        if (come.plane > 0) slide(come.plane);
        under.current = requestAnimationFrame(step);
        return;
      }
      c.removeEventListener("controlstart", take);
    };
    under.current = requestAnimationFrame(step);
  }, []);
}

/** A change between flat and perspective is made in the frame before. */
function afterNextFrame(act: () => void) {
  requestAnimationFrame(() => requestAnimationFrame(act));
}
