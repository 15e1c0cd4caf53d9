import { useThree } from "@react-three/fiber";
import { useEffect, useLayoutEffect, useRef } from "react";
import type * as THREE from "three";
import type { Light, Solid } from "../../api/client";
import { plus, type V3 } from "../opening/opening";
import { middleOf, sizeOf } from "../opening/plane-geometry";

const TEXELS = 2048; // of the picture that says what the sun sees, each way
const AROUND = 1.2; // of the building's size, how far from its middle shadows are thrown

type Props = {
  light: Light;
  solid: Solid;
  /** Changes whenever what throws shadows does. */
  of: unknown;
};

/** The sun: what it sees is drawn anew only when it moves, or what it shines on changes. */
export function SunLight({ light, solid, of }: Props) {
  const lamp = useRef<THREE.DirectionalLight>(null);
  const { gl, invalidate } = useThree();
  const reach = sizeOf(solid) * AROUND;
  const [middle, way] = [middleOf(solid), light.light as V3];
  const [x, y, z] = plus(middle, way, -2 * reach);
  useLayoutEffect(() => {
    gl.shadowMap.enabled = true;
    gl.shadowMap.autoUpdate = false;
    return () => {
      gl.shadowMap.enabled = false;
    };
  }, [gl]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each of them is another shadow
  useEffect(() => {
    lamp.current?.target.position.set(...middle);
    lamp.current?.target.updateMatrixWorld();
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [gl, invalidate, x, y, z, of]);
  return (
    <directionalLight
      ref={lamp}
      castShadow
      position={[x, y, z]}
      shadow-mapSize={[TEXELS, TEXELS]}
      shadow-bias={-0.0008}
      shadow-camera-left={-reach}
      shadow-camera-right={reach}
      shadow-camera-bottom={-reach}
      shadow-camera-top={reach}
      shadow-camera-near={0.1}
      shadow-camera-far={4 * reach}
    />
  );
}
