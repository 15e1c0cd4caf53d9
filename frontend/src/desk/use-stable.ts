import { useLayoutEffect, useRef, useState } from "react";

type Acts = Record<string, (...given: never[]) => unknown>;

/** Acts that stay the same objects from render to render and do what the latest ones do: what is given them alone is
 * not rendered again while something else is dragged. */
export function useStable<T extends Acts>(acts: T): T {
  const latest = useRef(acts);
  useLayoutEffect(() => {
    latest.current = acts;
  });
  const [stable] = useState(() => {
    const names = Object.keys(acts);
    return Object.fromEntries(
      names.map((name) => [name, (...given: never[]) => latest.current[name]?.(...given)]),
    );
  });
  return stable as T;
}
