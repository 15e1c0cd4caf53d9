import { useCallback, useEffect } from "react";
import { useModelBench } from "../../model/model-state";

/** Begins and ends a presentation: on the whole screen where the browser lets us, else on the whole page. */
export function usePresenting(stage: { current: HTMLElement | null }) {
  const presenting = useModelBench((s) => s.presenting);
  const set = useModelBench((s) => s.set);
  const begin = useCallback(() => {
    set({ presenting: true, picked: null, cutting: false });
    stage.current?.requestFullscreen?.().catch(() => undefined);
  }, [set, stage]);
  const leave = useCallback(() => {
    set({ presenting: false });
    if (document.fullscreenElement) void document.exitFullscreen();
  }, [set]);
  useEffect(() => {
    const changed = () => {
      if (!document.fullscreenElement) set({ presenting: false });
    };
    document.addEventListener("fullscreenchange", changed);
    return () => document.removeEventListener("fullscreenchange", changed);
  }, [set]);
  return { presenting, begin, leave };
}
