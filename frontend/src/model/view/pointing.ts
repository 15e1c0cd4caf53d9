import * as THREE from "three";
import type { Solid } from "../../api/client";
import type { ShownOf } from "../building/Building";
import type { LoadedPart } from "../building/use-solid";
import type { Lock, Offset } from "../model-state";
import { dot, type Opening, type Plane, plus, scaled, type V3 } from "../opening/opening";
import { planeThrough, wholeMm } from "../opening/plane-geometry";
import { type Hit, hitBy } from "./picking";

const HAIR = 1e-3; // metres from a face at which a ray starts into what lies behind or before it
const CLEAR = 2; // metres before a face that has nothing opposite it
const FACING = 0.999; // cosine between a plane's and a face's direction for the plane to lie along the face

/** What is pointed at, and the planes that could cut there; `by`: metres from the face. */
export type Pointed = { hit: Hit; planes: Partial<Record<Offset, { plane: Plane; by: number }>> };

type Seen = { parts: LoadedPart[]; shown: ShownOf; opening: Opening };

/** The face under a ray with the plane in it and, where the plane lies along the face, two useful others: through the
 * middle of what the face bounds, and in the middle of the free space before it. */
export function pointedAt(ray: THREE.Ray, seen: Seen, lock: Lock, solid: Solid): Pointed | null {
  const hit = hitBy(ray, seen.parts, seen.shown, seen.opening);
  if (!hit) return null;
  const towards = ray.direction.clone().negate().toArray() as V3;
  const plane = planeThrough(hit.at, hit.normal, lock, towards, solid.turn);
  const face = tidied(plane);
  const planes: Pointed["planes"] = { face: { plane: face, by: 0 } };
  if (Math.abs(dot(plane.normal, hit.normal)) < FACING) return { hit, planes };
  const away = (by: number) => ({ plane: tidied({ ...face, point: plus(face.point, hit.normal, by) }), by });
  const inward = rayFrom(plus(hit.at, hit.normal, -HAIR), scaled(hit.normal, -1));
  const back = hitBy(inward, seen.parts, (e, s) => (e === hit.element ? seen.shown(e, s) : "no"), []);
  if (back) planes.middle = away(-(back.distance + HAIR) / 2);
  const opposite = hitBy(rayFrom(plus(hit.at, hit.normal, HAIR), hit.normal), seen.parts, seen.shown, []);
  planes.before = away(opposite ? (opposite.distance + HAIR) / 2 : CLEAR);
  return { hit, planes };
}

const rayFrom = (at: V3, way: V3) => new THREE.Ray(new THREE.Vector3(...at), new THREE.Vector3(...way));

/** A plane square to an axis lies at full millimetres. */
function tidied(plane: Plane): Plane {
  if (Math.max(...plane.normal.map(Math.abs)) < 1 - 1e-9) return plane;
  const at = dot(plane.point, plane.normal);
  return { ...plane, point: plus(plane.point, plane.normal, wholeMm(at) - at) };
}
