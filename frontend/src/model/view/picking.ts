import * as THREE from "three";
import { MeshBVH } from "three-mesh-bvh";
import type { ShownOf } from "../building/Building";
import type { SolidElement } from "../building/solid-form";
import type { LoadedPart } from "../building/use-solid";
import { isTaken, type Opening, type V3 } from "../opening/opening";

/** A face under the pointer: where, its normal to the viewer, whose it is, and how far off (metres). */
export type Hit = {
  at: V3;
  normal: V3;
  element: SolidElement;
  part: LoadedPart;
  storey: string;
  distance: number;
};

const trees = new WeakMap<LoadedPart, MeshBVH>();

function treeOf(part: LoadedPart): MeshBVH {
  let tree = trees.get(part);
  if (!tree) {
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute("position", new THREE.BufferAttribute(part.positions, 3));
    geometry.setIndex(new THREE.BufferAttribute(part.triangles, 1));
    tree = new MeshBVH(geometry, { indirect: true }); // the order of the triangles says whose they are
    trees.set(part, tree);
  }
  return tree;
}

/** The faces of what shows along a ray, the nearest of each element; what is taken away or hidden lets it through. */
export function hitsBy(ray: THREE.Ray, parts: LoadedPart[], shown: ShownOf, opening: Opening): Hit[] {
  const found = new Map<string, Hit>();
  for (const part of parts) {
    const low = new THREE.Vector3(...part.low);
    const step = new THREE.Vector3(...part.step);
    const local = new THREE.Ray(
      ray.origin.clone().sub(low).divide(step),
      ray.direction.clone().divide(step).normalize(),
    );
    for (const hit of treeOf(part).raycast(local, THREE.DoubleSide)) {
      const at = hit.point.clone().multiply(step).add(low);
      const distance = at.distanceTo(ray.origin);
      const element = ownerOf(part, hit.faceIndex as number);
      if (!element || distance >= (found.get(element.guid)?.distance ?? Number.POSITIVE_INFINITY)) continue;
      if (shown(element, part.storey) !== "yes") continue;
      const place = at.toArray() as V3;
      if (isTaken(opening, place)) continue;
      const normal = faceNormal(part, hit.faceIndex as number, ray);
      found.set(element.guid, { at: place, normal, element, part, storey: part.storey, distance });
    }
  }
  return [...found.values()].sort((a, b) => a.distance - b.distance);
}

/** The nearest of them. */
export const hitBy = (ray: THREE.Ray, parts: LoadedPart[], shown: ShownOf, opening: Opening): Hit | null =>
  hitsBy(ray, parts, shown, opening)[0] ?? null;

function ownerOf(part: LoadedPart, triangle: number): SolidElement | undefined {
  let [low, high] = [0, part.elements.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((part.elements[middle] as SolidElement).triangles[0] <= triangle) low = middle;
    else high = middle - 1;
  }
  return part.elements[low];
}

/** The normal of a triangle towards the viewer. */
function faceNormal(part: LoadedPart, triangle: number, ray: THREE.Ray): V3 {
  const [a, b, c] = [0, 1, 2].map((k) => {
    const at = (part.triangles[triangle * 3 + k] as number) * 3;
    return new THREE.Vector3(
      ...([0, 1, 2].map((i) => (part.positions[at + i] as number) * (part.step[i] as number)) as V3),
    );
  }) as [THREE.Vector3, THREE.Vector3, THREE.Vector3];
  const normal = b.sub(a).cross(c.sub(a)).normalize();
  if (normal.dot(ray.direction) > 0) normal.negate();
  // rounding of the compact form leans faces by a hair; those that stand square are meant to
  const tidy = normal.toArray().map((x) => (Math.abs(x) < 2e-3 ? 0 : x)) as V3;
  return new THREE.Vector3(...tidy).normalize().toArray() as V3;
}
