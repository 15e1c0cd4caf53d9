import { ArrowLeftRight } from "lucide-react";
import { useMemo } from "react";
import * as THREE from "three";
import "@react-three/fiber";
import { axesOf, type Plane, plus, scaled } from "../opening/opening";

const HEAD = 0.25; // of the arrow's length

/** The arrow in the model that says which side of a plane is looked at. */
export function LookArrow({ plane, length, colour }: { plane: Plane; length: number; colour: string }) {
  const arrow = useMemo(() => {
    const { u, v, w } = axesOf(plane);
    const tip = plus(plane.point, w, length);
    const barbs = [u, scaled(u, -1), v, scaled(v, -1)].map((side) =>
      plus(plus(tip, w, -HEAD * length), side, HEAD * length * 0.5),
    );
    const points = [plane.point, tip, ...barbs.flatMap((barb) => [tip, barb])];
    const found = new THREE.BufferGeometry();
    found.setAttribute("position", new THREE.Float32BufferAttribute(points.flat(), 3));
    return found;
  }, [plane, length]);
  return (
    <lineSegments geometry={arrow} renderOrder={4}>
      <lineBasicMaterial color={colour} depthTest={false} transparent />
    </lineSegments>
  );
}

/** At the arrow's tip: looks the other way. */
export function LookButton({ plane, length, onTurn }: { plane: Plane; length: number; onTurn: () => void }) {
  return (
    <button
      type="button"
      data-at={plus(plane.point, plane.normal, -length * 1.3).join(",")}
      className="btn btn-circle btn-sm pointer-events-auto absolute top-0 left-0 border-primary text-primary"
      aria-label="Look the other way"
      title="Look the other way (R)"
      onPointerDown={(event) => event.stopPropagation()}
      onPointerUp={(event) => event.stopPropagation()}
      onClick={onTurn}
    >
      <ArrowLeftRight size={14} />
    </button>
  );
}
