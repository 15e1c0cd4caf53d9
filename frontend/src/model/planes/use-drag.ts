import type { CameraControls } from "@react-three/drei";
import { type PointerEvent, type RefObject, useRef } from "react";

type At = { clientX: number; clientY: number };
export const STILL = 4; // pixels within which a press is a click

/** Dragging a grip that lies over the picture: the view holds still meanwhile. `begin` gives what `move` needs to know
 * of the beginning. */
export function useDrag<T>(
  controls: RefObject<CameraControls | null>,
  acts: {
    begin: (event: At) => T;
    move: (event: At & { shiftKey: boolean }, began: T) => void;
    end: () => void;
    click?: () => void;
  },
) {
  const from = useRef<{ began: T; x: number; y: number; moved: boolean } | null>(null);
  return {
    onPointerDown: (event: PointerEvent<HTMLButtonElement>) => {
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      if (controls.current) controls.current.enabled = false;
      from.current = { began: acts.begin(event), x: event.clientX, y: event.clientY, moved: false };
    },
    onPointerMove: (event: PointerEvent) => {
      const now = from.current;
      if (!now) return;
      now.moved ||= Math.hypot(event.clientX - now.x, event.clientY - now.y) > STILL;
      if (now.moved || !acts.click) acts.move(event, now.began);
    },
    onPointerUp: (event: PointerEvent) => {
      event.stopPropagation();
      if (controls.current) controls.current.enabled = true;
      const now = from.current;
      from.current = null;
      if (now && !now.moved && acts.click) acts.click();
      else if (now) acts.end();
    },
    onPointerCancel: () => {
      if (controls.current) controls.current.enabled = true;
      if (from.current) acts.end();
      from.current = null;
    },
    /** Enter and the space bar do what a click does. */
    onKeyDown: (event: { key: string; preventDefault: () => void }) => {
      if (!acts.click || (event.key !== "Enter" && event.key !== " ")) return;
      event.preventDefault();
      acts.click();
    },
  };
}
