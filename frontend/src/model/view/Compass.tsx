import { useFrame } from "@react-three/fiber";
import type { RefObject } from "react";
import * as THREE from "three";

const WINDS = ["north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west"];
const DOWN = 0.94; // of the view's direction, from which it looks straight down or up

type Place = readonly [x: number, y: number];

/** Where north lies in the picture, and which way it looks. */
export function Compass() {
  return (
    <div
      data-compass=""
      role="img"
      aria-label="North"
      className="pointer-events-none absolute bottom-2 left-2 flex items-center gap-2 text-xs"
    >
      <svg viewBox="-20 -20 40 40" width="40" height="40" aria-hidden="true">
        <circle r="13" fill="none" stroke="currentColor" strokeOpacity="0.45" />
        <g data-needle="">
          <path d="M0-13 L0 13" stroke="currentColor" strokeOpacity="0.45" />
          <path d="M-3.2-8 L0-16 L3.2-8 Z" fill="currentColor" />
        </g>
      </svg>
      <span data-heading="" className="rounded bg-base-100/80 px-1" />
    </div>
  );
}

/** Turns the compass that lies over the picture; `north` in the model's plan. */
export function TurnCompass({ overlay, north }: { overlay: RefObject<HTMLDivElement | null>; north: Place }) {
  useFrame(({ camera }) => {
    const compass = overlay.current?.querySelector<HTMLElement>("[data-compass]");
    const [needle, words] = ["[data-needle]", "[data-heading]"].map((s) =>
      compass?.querySelector<HTMLElement>(s),
    );
    if (!compass || !needle || !words) return;
    const right = new THREE.Vector3().setFromMatrixColumn(camera.matrixWorld, 0);
    const turn =
      (Math.atan2(dot(north, [right.x, right.y]), dot(north, [-right.y, right.x])) * 180) / Math.PI;
    needle.setAttribute("transform", `rotate(${turn.toFixed(1)})`);
    const way = camera.getWorldDirection(new THREE.Vector3());
    const heading = headingOf(way, turn);
    if (words.textContent === heading) return;
    words.textContent = heading;
    compass.setAttribute("aria-label", `North lies ${Math.round(turn)}° to the right of up; ${heading}`);
  });
  return null;
}

const dot = (a: Place, b: Place) => a[0] * b[0] + a[1] * b[1];

/** Which way a picture looks in which north lies `turn` degrees to the right of ahead. */
function headingOf(way: THREE.Vector3, turn: number): string {
  if (Math.abs(way.z) > DOWN) return way.z < 0 ? "looking down" : "looking up";
  return `looking ${WINDS[Math.round((((-turn % 360) + 360) % 360) / 45) % 8]}`;
}
