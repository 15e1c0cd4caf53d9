import type { CameraControls } from "@react-three/drei";
import { useModelBench } from "../../model/model-state";
import type { Plane } from "../../model/opening/opening";
import { lookBy } from "../../model/view/view-acts";
import type { Eye } from "../../model/viewpoints/seen";
import { between, paced, slid } from "../../model/viewpoints/way";

const TAKES = 1400; // ms that the way to a viewpoint takes
const NEAR = 1e-6; // metres; a plane that is there already does not slide

/** From where to where the eye goes, which plane slides open after it from how far before its place, metres, and what is
 * so in the end. */
export type Way = {
  from: Eye;
  to: Eye;
  sliding: Plane | null;
  begin: number;
  end: Partial<ReturnType<typeof useModelBench.getState>>;
};

/** Goes a way, a step a frame. A hand that takes the view keeps it; where something else comes to open the model, the
 * plane slides no further. Returns what breaks it off. */
export function travelling(controls: CameraControls, { from, to, sliding, begin, end }: Way): () => void {
  const { set } = useModelBench.getState();
  let mine: Plane | null = null; // the plane as it was set here last
  const slide = (share: number) => {
    if (!sliding) return;
    mine = slid(sliding, begin, share);
    set({ plane: mine });
  };
  slide(0);
  let taken = false;
  const take = () => {
    taken = true;
  };
  controls.addEventListener("controlstart", take);
  const leave = () => controls.removeEventListener("controlstart", take);
  let started = 0;
  let under = 0;
  const step = (now: number) => {
    started ||= now;
    const share = Math.min(1, (now - started) / TAKES);
    const come = paced(share, sliding !== null && Math.abs(begin) > NEAR);
    if (!taken) lookBy(controls, between(from, to, come.eye));
    if (mine !== null && useModelBench.getState().plane !== mine) {
      set({ coming: null });
      leave();
    } else if (share >= 1) {
      set(end);
      leave();
    } else {
      if (come.plane > 0) slide(come.plane);
      under = requestAnimationFrame(step);
    }
  };
  under = requestAnimationFrame(step);
  return () => {
    cancelAnimationFrame(under);
    leave();
  };
}
