import { useCallback, useEffect, useRef } from "react";

/** Runs the latest of what it is given once, in the next frame: what is asked for again and again, as while something
 * is dragged, is neither done twice in a frame nor put off for ever. */
export function useNextFrame(): (act: () => void) => void {
  const latest = useRef<() => void>(() => {});
  const asked = useRef(0);
  useEffect(
    () => () => {
      cancelAnimationFrame(asked.current);
      asked.current = 0;
    },
    [],
  );
  return useCallback((act) => {
    latest.current = act;
    if (asked.current) return;
    asked.current = requestAnimationFrame(() => {
      asked.current = 0;
      latest.current();
    });
  }, []);
}
