import { useMemo } from "react";
import * as THREE from "three";
import "@react-three/fiber";
import type { V3 } from "./opening";

type Props = { corners: V3[]; colour: string; faint?: boolean; filled?: boolean };

/** A plane as a thin frame. */
export function PlaneLines({ corners, colour, faint = false, filled = false }: Props) {
  const [frame, sheet] = useMemo(() => {
    const points = new THREE.Float32BufferAttribute(corners.flat(), 3);
    const lines = new THREE.BufferGeometry();
    lines.setAttribute("position", points);
    const faces = new THREE.BufferGeometry();
    faces.setAttribute("position", points);
    faces.setIndex([0, 1, 2, 0, 2, 3]);
    return [lines, faces];
  }, [corners]);
  return (
    <group renderOrder={3}>
      <lineLoop geometry={frame}>
        <lineBasicMaterial color={colour} transparent opacity={faint ? 0.35 : 1} />
      </lineLoop>
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
