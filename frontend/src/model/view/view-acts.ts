import type { CameraControls } from "@react-three/drei";
import * as THREE from "three";
import type { Leaf, Solid } from "../../api/client";
import { cross, dot, minus, type Plane, plus, scaled, type Taking, unit, type V3 } from "../opening/opening";
import { leafCorners, middleOf, planeOf, sizeOf } from "../opening/plane-geometry";
import type { Whence } from "../planes/use-planes";
import type { Eye } from "../viewpoints/seen";

export const FROM: V3 = [-0.8, -1.2, 0.75]; // where the building is looked at from at first

export const WIDE = 40; // degrees of view
const FLAT = 1.5; // degrees; so narrow a view has no perspective that could be seen
const EYE = 1.6; // metres above a floor
const GLANCE = 0.01; // metres before the eye that it turns about, so that it stays where it is
const LEAST_SIGHT = 0.5; // metres that are in view at least
const STRAIGHT: Record<string, V3> = {
  front: [0, -1, 0],
  back: [0, 1, 0],
  left: [-1, 0, 0],
  right: [1, 0, 0],
  above: [0, -1e-4, 1],
};
export const STRAIGHT_VIEWS = Object.keys(STRAIGHT);

/** How far the eye stands off to see the whole of something so large. */
const off = (size: number, degrees: number) => (size / 2 / Math.tan((degrees * Math.PI) / 360)) * 1.05;

const degreesOf = (controls: CameraControls) => (controls.camera as THREE.PerspectiveCamera).fov;

/** The turning about what lay under the pointer has moved the picture aside; that ends here. */
function look(controls: CameraControls, ...places: [...V3, ...V3]) {
  void controls.setFocalOffset(0, 0, 0, false);
  void controls.setLookAt(...places, false);
  controls.update(0); // which asks for a picture
}

export function lookFrom(controls: CameraControls, solid: Solid, towards: V3) {
  const middle = middleOf(solid);
  const eye = plus(middle, towards, off(sizeOf(solid), degreesOf(controls)) / Math.hypot(...towards));
  return look(controls, ...eye, ...middle);
}

export const straight = (controls: CameraControls, solid: Solid, name: string) =>
  lookFrom(controls, solid, STRAIGHT[name] ?? [0, -1, 0]);

/** Square onto a plane, from its side. */
export function squareOnto(controls: CameraControls, solid: Solid, plane: Plane) {
  const middle = middleOf(solid);
  const on = plus(middle, plane.normal, -dot(minus(middle, plane.point), plane.normal));
  const level = Math.abs(plane.normal[2]) > 0.999;
  const way: V3 = level ? [0, -1e-4, Math.sign(plane.normal[2])] : plane.normal;
  return look(controls, ...plus(on, way, off(sizeOf(solid), degreesOf(controls))), ...on);
}

/** Square onto a plane of a drawing, so that what it shows fills the view; how things look stays. */
export function squareOntoLeaf(controls: CameraControls, solid: Solid, leaf: Leaf) {
  const { normal } = planeOf(leaf, solid);
  const [a, b, c] = leafCorners(leaf) as [V3, V3, V3, V3];
  const middle = scaled(plus(a, c), 0.5);
  const { aspect } = controls.camera as THREE.PerspectiveCamera;
  const [wide, high] = [Math.hypot(...minus(b, a)), Math.hypot(...minus(c, b))];
  const level = Math.abs(normal[2]) > 0.999;
  const way: V3 = level ? [0, -1e-4, Math.sign(normal[2])] : normal;
  const away = off(Math.max(high, wide / aspect, LEAST_SIGHT), degreesOf(controls));
  return look(controls, ...plus(middle, way, away), ...middle);
}

/** The plane through a place that is square to the view: level, or upright, where that is what is looked at. */
export function planeFacing(controls: CameraControls, point: V3): Plane {
  const way = controls.camera.getWorldDirection(new THREE.Vector3()).negate().toArray() as V3;
  return { point, normal: unit(way.map((x) => (Math.abs(x) < 2e-3 ? 0 : x)) as V3) };
}

/** Whence it is looked at, for a drawing; of a perspective with what is in view. */
export function whence(controls: CameraControls, perspective: boolean): Whence {
  const camera = controls.camera as THREE.PerspectiveCamera;
  const towards = camera.getWorldDirection(new THREE.Vector3()).negate().toArray() as V3;
  if (!perspective) return { towards };
  const wide = Math.max(camera.fov, WIDE);
  const { at: eye } = eyeOf(controls);
  const angle = (Math.atan(half(wide) * camera.aspect) * 360) / Math.PI;
  return { towards, eye, angle: Math.min(angle, 150), aspect: camera.aspect };
}

const half = (degrees: number) => Math.tan((degrees * Math.PI) / 360);

/** Where the eye is, as with perspective: that of a flat view is very far away. */
export function eyeOf(controls: CameraControls): Eye {
  const camera = controls.camera as THREE.PerspectiveCamera;
  const way = camera.getWorldDirection(new THREE.Vector3()).toArray() as V3;
  const to = plus(camera.position.toArray() as V3, way, controls.distance);
  return {
    at: plus(to, way, (-controls.distance * half(camera.fov)) / half(Math.max(camera.fov, WIDE))),
    to,
  };
}

/** Look as an eye does, with or without perspective. */
export function lookBy(controls: CameraControls, { at, to }: Eye) {
  const fov = degreesOf(controls);
  return look(controls, ...plus(to, minus(at, to), half(Math.max(fov, WIDE)) / half(fov)), ...to);
}

/** As somebody sees it who stands on the floor below a place: the eye stays where it is when the head turns. */
export function standAt(controls: CameraControls, at: V3, floor: number) {
  const eye: V3 = [at[0], at[1], floor + EYE];
  return look(controls, ...eye, ...plus(eye, ahead(controls), GLANCE));
}

/** The level direction in which the camera looks. */
function ahead(controls: CameraControls): V3 {
  const way = controls.camera.getWorldDirection(new THREE.Vector3());
  return Math.hypot(way.x, way.y) > 0.05 ? unit([way.x, way.y, 0]) : [0, 1, 0];
}

/** Walk on: metres ahead, metres up. */
export function walk(controls: CameraControls, by: number, up = 0) {
  const [eye, to] = [controls.getPosition(new THREE.Vector3()), controls.getTarget(new THREE.Vector3())];
  const step = plus(scaled(ahead(controls), by), [0, 0, up]);
  const moved = (place: THREE.Vector3) => plus(place.toArray() as V3, step);
  return look(controls, ...moved(eye), ...moved(to));
}

/** Turn the head to the left by degrees. */
export function turnHead(controls: CameraControls, degrees: number) {
  void controls.rotate((degrees * Math.PI) / 180, 0, false);
  controls.update(0);
}

/** As it was seen before one stood in it. */
export function leave(controls: CameraControls) {
  void controls.reset(false);
  controls.update(0);
}

/** Come near to a box, looking the way that is looked. */
export function comeNear(controls: CameraControls, low: V3, high: V3) {
  const middle = scaled(plus(low, high), 0.5);
  const size = Math.max(LEAST_SIGHT, Math.hypot(...minus(high, low)) * 1.5);
  const back = controls.camera.getWorldDirection(new THREE.Vector3()).toArray() as V3;
  return look(controls, ...plus(middle, back, -off(size, degreesOf(controls))), ...middle);
}

/** The middle of a cut as somebody sees it who stands off its side, a little higher: what it opened shows. */
export function lookInto(controls: CameraControls, { u, w }: Taking, middle: V3, size: number) {
  const v = cross(u, w);
  const steep = Math.abs(w[2]) > 0.7; // a plan: from its foot
  const towards = unit(plus(plus(scaled(w, -1), u, steep ? 0 : -0.45), v, steep ? -0.6 : 0.4));
  const eye = plus(middle, towards, off(size, degreesOf(controls)));
  return look(controls, ...eye, ...middle);
}

/** Perspective or not, with the same things in view. */
export function setFlat(controls: CameraControls, flat: boolean) {
  const camera = controls.camera as THREE.PerspectiveCamera;
  const to = flat ? FLAT : WIDE;
  const share = Math.tan((camera.fov * Math.PI) / 360) / Math.tan((to * Math.PI) / 360);
  camera.fov = to;
  controls.dollyTo(controls.distance * share, false);
}

/** The nearest and the farthest that is drawn, for as fine a depth as can be. */
export function fitDepth(camera: THREE.PerspectiveCamera, solid: Solid) {
  const distance = camera.position.distanceTo(new THREE.Vector3(...middleOf(solid)));
  const reach = sizeOf(solid) * 0.75 + 5;
  camera.near = Math.max(0.1, distance - reach);
  camera.far = distance + reach;
  camera.updateProjectionMatrix();
}
