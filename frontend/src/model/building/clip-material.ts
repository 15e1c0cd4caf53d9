import * as THREE from "three";
import { MOST_LEAVES, type Opening } from "../opening/opening";

/** The planes that say what is taken away, for all materials that ask. */
export type ClipUniforms = {
  clipOrigin: { value: THREE.Vector3[] };
  clipU: { value: THREE.Vector3[] };
  clipW: { value: THREE.Vector3[] };
  clipReach: { value: THREE.Vector3[] };
};

const vectors = () => Array.from({ length: MOST_LEAVES }, () => new THREE.Vector3());

export const clipUniforms = (): ClipUniforms => ({
  clipOrigin: { value: vectors() },
  clipU: { value: vectors() },
  clipW: { value: vectors() },
  clipReach: { value: vectors() },
});

export function setOpening(uniforms: ClipUniforms, opening: Opening) {
  opening.flat().forEach((leaf, k) => {
    if (k >= MOST_LEAVES) return;
    uniforms.clipOrigin.value[k]?.set(...leaf.origin);
    uniforms.clipU.value[k]?.set(...leaf.u);
    uniforms.clipW.value[k]?.set(...leaf.w);
    uniforms.clipReach.value[k]?.set(leaf.left, leaf.right, leaf.far);
  });
}

/** How many planes each cut has: another picture of it, another program. */
export const shapeOf = (opening: Opening) => opening.map((cut) => cut.length).join();

const declared = (count: number) => `
uniform vec3 clipOrigin[${MOST_LEAVES}];
uniform vec3 clipU[${MOST_LEAVES}];
uniform vec3 clipW[${MOST_LEAVES}];
uniform vec3 clipReach[${MOST_LEAVES}];
varying vec2 clipAt[${count}];
`;

/** Where a corner lies along and behind each plane; between corners that is even. */
function measuring(count: number): string {
  const lines = ["vec3 clipPlace = (modelMatrix * vec4(transformed, 1.0)).xyz;"];
  for (let k = 0; k < count; k++)
    lines.push(
      `clipAt[${k}] = vec2(dot(clipPlace - clipOrigin[${k}], clipU[${k}]), dot(clipPlace - clipOrigin[${k}], clipW[${k}]));`,
    );
  return lines.join("\n");
}

/** Whether a place is taken away: before a plane of every cut, or behind the far side of a slice. */
function asking(shape: number[]): string {
  const within = (k: number) => `clipAt[${k}].x >= clipReach[${k}].x && clipAt[${k}].x <= clipReach[${k}].y`;
  let at = 0;
  const cuts = shape.map((many) => {
    const leaves = Array.from({ length: many }, (_, i) => at + i);
    at += many;
    return leaves;
  });
  const before = cuts.map(
    (cut) => `(${cut.map((k) => `(clipAt[${k}].y < -1e-4 && ${within(k)})`).join(" || ")})`,
  );
  const behind = cuts.flat().map((k) => `(clipAt[${k}].y > clipReach[${k}].z + 1e-4 && ${within(k)})`);
  return `(${before.join(" && ")}) || ${behind.join(" || ")}`;
}

/** Lets a material leave out what is taken away (or, `taken`, draw only that). */
export function clipping<M extends THREE.Material>(
  material: M,
  uniforms: ClipUniforms,
  said: string,
  taken: boolean,
): M {
  const shape = said ? said.split(",").map(Number) : [];
  const count = Math.min(
    MOST_LEAVES,
    shape.reduce((sum, many) => sum + many, 0),
  );
  if (count > 0)
    material.onBeforeCompile = (shader) => {
      Object.assign(shader.uniforms, uniforms);
      shader.vertexShader = shader.vertexShader
        .replace("#include <common>", `#include <common>${declared(count)}`)
        .replace("#include <project_vertex>", `#include <project_vertex>\n${measuring(count)}`);
      shader.fragmentShader = shader.fragmentShader
        .replace("#include <common>", `#include <common>${declared(count)}`)
        .replace("void main() {", `void main() {\nif (${taken ? "!" : ""}(${asking(shape)})) discard;`);
    };
  material.customProgramCacheKey = () => `clip ${said} ${taken}`;
  return material;
}
