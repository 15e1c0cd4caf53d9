import { useEffect, useMemo } from "react";
import * as THREE from "three";
import "@react-three/fiber";
import type { V3 } from "../opening/opening";

type Props = { corners: V3[]; colour: string; faint?: boolean; filled?: boolean };
const FAINT = 0.35;
const NEAR_SHADE = 0.28;

/** A plane as a thin frame. */
export function PlaneLines({ corners, colour, faint = false, filled = false }: Props) {
  const sheet = useMemo(() => {
    const faces = geometryOf(corners);
    faces.setIndex([0, 1, 2, 0, 2, 3]);
    return faces;
  }, [corners]);
  const frames = useMemo(() => [corners], [corners]);
  return (
    <group renderOrder={3}>
      <Frames frames={frames} colour={colour} faint={faint} />
      {filled && (
        <mesh geometry={sheet}>
          <meshBasicMaterial
            color={colour}
            transparent
            opacity={0.12}
            side={THREE.DoubleSide}
            depthWrite={false}
          />
        </mesh>
      )}
    </group>
  );
}

/** What lies between a plane and the far side of a slice, or of a drawing's depth: four sides that fade with distance,
 * and the far frame. */
export function Band({ near, far, colour }: { near: V3[]; far: V3[]; colour: string }) {
  const sides = useMemo(() => {
    const found = geometryOf([...near, ...far]);
    found.setIndex(
      [0, 1, 2, 3].flatMap((k) => [k, (k + 1) % 4, k + 4, (k + 1) % 4, ((k + 1) % 4) + 4, k + 4]),
    );
    const shades = [...near.map(() => NEAR_SHADE), ...far.map(() => 0)];
    const base = new THREE.Color(colour);
    found.setAttribute(
      "color",
      new THREE.Float32BufferAttribute(
        shades.flatMap((a) => [base.r, base.g, base.b, a]),
        4,
      ),
    );
    return found;
  }, [near, far, colour]);
  const frames = useMemo(() => [far, ...near.map((corner, k) => [corner, far[k] as V3])], [near, far]);
  return (
    <group renderOrder={3}>
      <mesh geometry={sides}>
        <meshBasicMaterial vertexColors transparent side={THREE.DoubleSide} depthWrite={false} />
      </mesh>
      <Frames frames={frames} colour={colour} faint />
    </group>
  );
}

/** The frames of many planes, drawn at once. */
export function Frames({ frames, colour, faint }: { frames: V3[][]; colour: string; faint: boolean }) {
  const lines = useMemo(
    () => geometryOf(frames.flatMap((f) => f.flatMap((corner, k) => [corner, f[(k + 1) % f.length] as V3]))),
    [frames],
  );
  useEffect(() => () => lines.dispose(), [lines]);
  return (
    <lineSegments geometry={lines} renderOrder={3}>
      <lineBasicMaterial color={colour} transparent opacity={faint ? FAINT : 1} />
    </lineSegments>
  );
}

function geometryOf(places: V3[]): THREE.BufferGeometry {
  const found = new THREE.BufferGeometry();
  found.setAttribute("position", new THREE.Float32BufferAttribute(places.flat(), 3));
  return found;
}
