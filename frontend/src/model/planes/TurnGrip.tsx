import type { CameraControls } from "@react-three/drei";
import { RotateCw } from "lucide-react";
import type { RefObject } from "react";
import * as THREE from "three";
import { useModelBench } from "../model-state";
import { axesOf, cross, dot, minus, type Plane, plus, turned, type V3 } from "../opening/opening";
import { useDrag } from "./use-drag";

const STEP = 15; // degrees of the building's directions that a turn comes to rest at

type Props = {
  plane: Plane;
  /** Metres from the plane's point. */
  reach: number;
  /** Degrees of the building in the model. */
  turn: number;
  rayAt: (event: { clientX: number; clientY: number }) => THREE.Ray | null;
  controls: RefObject<CameraControls | null>;
  onMove: (plane: Plane) => void;
  onDrop: () => void;
};

/** The grip that turns a plane: an upright one about up, any other about its level direction; a click turns by 90°. */
export function TurnGrip({ plane, reach, turn, rayAt, controls, onMove, onDrop }: Props) {
  const { u, v } = axesOf(plane);
  const upright = Math.abs(plane.normal[2]) < 0.01;
  const axis: V3 = upright ? [0, 0, 1] : u;
  const angleAt = (event: { clientX: number; clientY: number }, of: Plane): number => {
    const ray = rayAt(event);
    const circle = new THREE.Plane().setFromNormalAndCoplanarPoint(
      new THREE.Vector3(...axis),
      new THREE.Vector3(...of.point),
    );
    const at = ray?.intersectPlane(circle, new THREE.Vector3());
    if (!at) return 0;
    const from = minus(at.toArray() as V3, of.point);
    return (Math.atan2(dot(from, cross(axis, of.normal)), dot(from, of.normal)) * 180) / Math.PI;
  };
  const says = useModelBench((s) => s.set);
  const drag = useDrag<{ plane: Plane; angle: number }>(controls, {
    begin: (event) => ({ plane, angle: angleAt(event, plane) }),
    move: (event, began) => {
      const by = angleAt(event, began.plane) - began.angle;
      const to = event.shiftKey ? by : rested(began.plane, axis, by, turn);
      says({ says: `turned by ${Math.round((((to + 540) % 360) - 180) * 10) / 10}°` });
      onMove(turned(began.plane, axis, to));
    },
    end: onDrop,
    click: () => onMove(turned(plane, axis, 90)),
  });
  return (
    <button
      type="button"
      data-at={plus(plane.point, upright ? u : v, reach).join(",")}
      className="btn btn-circle btn-sm pointer-events-auto absolute top-0 left-0 cursor-grab touch-none border-primary text-primary"
      aria-label="Turn the plane"
      title="Click turns by 90°; drag turns to any angle, Shift: without steps"
      {...drag}
    >
      <RotateCw size={14} />
    </button>
  );
}

/** A turn that ends at steps of the building's directions (about up), or of what it began at. */
function rested({ normal }: Plane, axis: V3, by: number, turn: number): number {
  if (axis[2] === 0) return Math.round(by / STEP) * STEP;
  const now = (Math.atan2(normal[1], normal[0]) * 180) / Math.PI - turn;
  return Math.round((now + by) / STEP) * STEP - now;
}
