import { useMemo } from "react";
import * as THREE from "three";
import "@react-three/fiber";
import { isTaken, type Opening, type V3 } from "../opening/opening";
import type { Faces } from "./faces";

const INK = "#22302b";

export type FacesOfCut = { faces: Faces; others: Opening };

/** Cut faces with their hatches, as the core draws them; of several cuts only what the others have left. */
export function CutFaces({
  faces,
  others,
  strokes: drawn,
}: {
  faces: Faces;
  others: Opening;
  strokes: boolean;
}) {
  const ink = useMemo(() => new THREE.LineBasicMaterial({ color: INK }), []);
  const strokes = useMemo(() => left(faces.strokes, others, 2), [faces, others]);
  return (
    <group renderOrder={2}>
      {faces.fills.map(({ colour, geometry }, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: fills have no name of their own
        <mesh key={k} geometry={left(geometry, others, 3)}>
          <meshBasicMaterial
            color={colour}
            side={THREE.DoubleSide}
            polygonOffset
            polygonOffsetFactor={1}
            polygonOffsetUnits={1}
          />
        </mesh>
      ))}
      {drawn && <lineSegments geometry={strokes} material={ink} />}
    </group>
  );
}

/** Of a geometry what is still there where other cuts open the model too: a face closes only what lies before them. */
function left(geometry: THREE.BufferGeometry, others: Opening, each: 2 | 3): THREE.BufferGeometry {
  if (others.length === 0) return geometry;
  const whole = geometry.index ? geometry.toNonIndexed() : geometry;
  const places = whole.getAttribute("position");
  const kept: number[] = [];
  for (let k = 0; k < places.count; k += each) {
    const corners = Array.from(
      { length: each },
      (_, i): V3 => [places.getX(k + i), places.getY(k + i), places.getZ(k + i)],
    );
    const middle = [0, 1, 2].map((i) => corners.reduce((sum, c) => sum + (c[i] as number), 0) / each) as V3;
    if (isTaken(others, middle)) kept.push(...corners.flat());
  }
  const found = new THREE.BufferGeometry();
  found.setAttribute("position", new THREE.Float32BufferAttribute(kept, 3));
  return found;
}
