import { useFrame } from "@react-three/fiber";
import { useRef } from "react";
import { create } from "zustand";

const [LEAST, BEGIN] = [4_000, 40_000]; // triangles
const [SLOW, QUICK] = [1 / 31, 1 / 50]; // seconds of a frame
const FRAMES = 4; // that are looked at together
const STEP = 1.5;

/** How many triangles this machine draws while the view moves, so that it follows the pointer. */
const usePace = create<{ budget: number }>(() => ({ budget: BEGIN }));

export function useBudget(moving: boolean, triangles: number): number {
  const budget = usePace((s) => s.budget);
  return moving ? Math.min(budget, triangles) : triangles;
}

/** Looks at how long frames take while the view moves. */
export function Pace({ moving }: { moving: boolean }) {
  const seen = useRef<number[]>([]);
  const begun = useRef(false);
  useFrame((_, delta) => {
    const first = moving && !begun.current; // it has waited since the view moved last
    begun.current = moving;
    if (!moving || first) {
      seen.current = [];
      return;
    }
    seen.current.push(delta);
    if (seen.current.length < FRAMES) return;
    const middle = [...seen.current].sort((a, b) => a - b)[FRAMES >> 1] as number;
    seen.current = [];
    const { budget } = usePace.getState();
    if (middle > SLOW) usePace.setState({ budget: Math.max(LEAST, budget / (STEP * STEP)) });
    else if (middle < QUICK && budget < 1e7) usePace.setState({ budget: budget * STEP });
  });
  return null;
}
