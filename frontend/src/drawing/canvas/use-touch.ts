import { type PointerEvent, useRef } from "react";
import { type Camera, panned, type Spot, zoomAt } from "../camera";

/** Looking with fingers: one pans, two pinch. The handlers answer whether they took the event. */
export function useTouch(
  camera: Camera | null,
  keep: (next: Camera) => void,
  place: (event: PointerEvent) => Spot,
) {
  const fingers = useRef(new Map<number, Spot>());
  const moved = useRef(0);
  const latest = useRef(camera); // several moves come between two frames
  const middle = (spots: Spot[]): Spot => ({
    x: spots.reduce((sum, p) => sum + p.x, 0) / spots.length,
    y: spots.reduce((sum, p) => sum + p.y, 0) / spots.length,
  });
  const spread = ([a, b]: Spot[]) => (a && b ? Math.hypot(a.x - b.x, a.y - b.y) : 0);
  return {
    down: (event: PointerEvent) => {
      if (event.pointerType !== "touch") return false;
      if (fingers.current.size === 0) {
        moved.current = 0;
        latest.current = camera;
      }
      fingers.current.set(event.pointerId, place(event));
      return fingers.current.size > 1;
    },
    move: (event: PointerEvent) => {
      if (!fingers.current.has(event.pointerId) || !latest.current) return false;
      const before = [...fingers.current.values()];
      fingers.current.set(event.pointerId, place(event));
      const now = [...fingers.current.values()];
      const [p, q] = [middle(before), middle(now)];
      moved.current += Math.hypot(q.x - p.x, q.y - p.y);
      const shifted = panned(latest.current, q.x - p.x, q.y - p.y);
      const pinched = now.length > 1 && spread(before) > 0;
      latest.current = pinched ? zoomAt(shifted, q, spread(now) / spread(before)) : shifted;
      keep(latest.current);
      return true;
    },
    up: (event: PointerEvent) => {
      fingers.current.delete(event.pointerId);
    },
    /** Whether the fingers moved so far that a tap was not meant. */
    strayed: () => moved.current > 8,
  };
}
