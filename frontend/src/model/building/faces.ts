import * as THREE from "three";
import type { Cut, Style } from "../../api/client";
import { OPEN_EXTENTS } from "../../drawing/extents";
import type { Item, View } from "../../drawing/screen-form";
import { type Taking, takingsOf } from "../opening/opening";
import type { Hiding } from "../view/use-showing";

/** What of a drawing lies in its cut. */
const STROKES = new Set(["cut structure", "cut other", "layer", "membrane", "hatch", "earth line"]);
const THIN = 0.02; // metres; a cut that looks no further is made at once

/** A cut as the model is closed by it: alone, without what a drawing adds. */
export const faceCut = (cut: Cut, hiding: Hiding): Cut =>
  ({
    ...cut,
    depth: THIN,
    ...("depths" in cut ? { depths: [] } : {}),
    ...("overhead" in cut ? { overhead: 0 } : {}),
    ...("perspective" in cut ? { perspective: null } : {}),
    ...(cut.kind === "section" ? { of: "building" } : {}),
    ...(cut.kind === "plane" ? { of: "cut", openings: [] } : {}),
    extents: OPEN_EXTENTS,
    shared_extents: "",
    ...hiding,
    see_through: [],
    see_through_kinds: [],
    hidden: "off",
    glass: "solid",
  }) as Cut;

export const faceStyle = (usual: Style, standard: string, scale: number): Style => ({
  ...usual,
  standard,
  scale,
  levels: false,
  grid: false,
  rooms: false,
  frame: false,
  callouts: false,
  shown_markers: [],
  conventions: {
    doors: false,
    stairs: false,
    windows: false,
    heads: false,
    shafts: false,
    voids: false,
    services: false,
  },
});

/** `area`: square metres of all fills; `takings`: what the cut takes away. */
export type Faces = {
  area: number;
  takings: Taking[];
  fills: { colour: string; geometry: THREE.BufferGeometry }[];
  strokes: THREE.BufferGeometry;
};

/** Cut faces and their hatches where they lie in the model. */
export function facesOf(view: View): Faces {
  const place = placing(view);
  const fills: Faces["fills"] = [];
  const lines: number[] = [];
  for (const item of view.items) {
    if (item.fill && (item.role === "cut fill" || item.role === "hatch")) {
      const geometry = filled(item, place);
      if (geometry) fills.push({ colour: item.fill, geometry });
    }
    if (item.pen && STROKES.has(item.role)) stroked(item, place, lines);
  }
  const strokes = new THREE.BufferGeometry();
  strokes.setAttribute("position", new THREE.Float32BufferAttribute(lines, 3));
  return {
    takings: takingsOf(view.leaves.map((leaf) => ({ ...leaf, left: (leaf.left * view.scale) / 1000 }))),
    area: fills.reduce((sum, f) => sum + areaOf(f.geometry), 0),
    fills,
    strokes,
  };
}

export function dispose(faces: Faces) {
  for (const { geometry } of faces.fills) geometry.dispose();
  faces.strokes.dispose();
}

function areaOf(geometry: THREE.BufferGeometry): number {
  const [places, index] = [geometry.getAttribute("position"), geometry.getIndex()];
  const [a, b, c] = [new THREE.Vector3(), new THREE.Vector3(), new THREE.Vector3()];
  let area = 0;
  for (let k = 0; index && k < index.count; k += 3) {
    a.fromBufferAttribute(places, index.getX(k));
    b.fromBufferAttribute(places, index.getX(k + 1)).sub(a);
    c.fromBufferAttribute(places, index.getX(k + 2)).sub(a);
    area += b.cross(c).length() / 2;
  }
  return area;
}

type Placing = (x: number, y: number) => [number, number, number];

/** From mm on paper to metres of the model, by the leaf that a place lies in. */
function placing(view: View): Placing {
  const to = view.scale / 1000;
  const leaves = view.leaves;
  return (x, y) => {
    let leaf = leaves[0];
    for (const one of leaves) if (x >= one.left - 1e-3) leaf = one;
    if (!leaf) return [0, 0, 0];
    const { origin: o, u, v } = leaf;
    const at = (k: number) => (o[k] as number) + to * (x * (u[k] as number) + y * (v[k] as number));
    return [at(0), at(1), at(2)];
  };
}

function runsOf(item: Item): THREE.Vector2[][] {
  const runs: THREE.Vector2[][] = [];
  for (let k = 0; k + 1 < item.starts.length; k++) {
    const run: THREE.Vector2[] = [];
    for (let i = item.starts[k] as number; i < (item.starts[k + 1] as number); i++)
      run.push(new THREE.Vector2(item.points[2 * i], item.points[2 * i + 1]));
    if (run.length > 1) runs.push(run);
  }
  return runs;
}

/** Rings as triangles: those that lie in the ring before them are its holes, as the core lists them. */
function filled(item: Item, place: Placing): THREE.BufferGeometry | null {
  const positions: number[] = [];
  const index: number[] = [];
  const rings = runsOf(item).filter((r) => r.length > 2);
  for (let k = 0; k < rings.length; ) {
    const outer = rings[k] as THREE.Vector2[];
    const holes: THREE.Vector2[][] = [];
    for (k += 1; k < rings.length && within((rings[k] as THREE.Vector2[])[0] as THREE.Vector2, outer); k++)
      holes.push(rings[k] as THREE.Vector2[]);
    const start = positions.length / 3;
    for (const p of [outer, ...holes].flat()) positions.push(...place(p.x, p.y));
    for (const triangle of THREE.ShapeUtils.triangulateShape(outer, holes))
      index.push(...triangle.map((i) => start + i));
  }
  if (index.length === 0) return null;
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute("position", new THREE.Float32BufferAttribute(positions, 3));
  geometry.setIndex(index);
  return geometry;
}

function within(p: THREE.Vector2, ring: THREE.Vector2[]): boolean {
  let odd = false;
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
    const [a, b] = [ring[i] as THREE.Vector2, ring[j] as THREE.Vector2];
    if (a.y > p.y !== b.y > p.y && a.x + ((p.y - a.y) / (b.y - a.y)) * (b.x - a.x) > p.x) odd = !odd;
  }
  return odd;
}

function stroked(item: Item, place: Placing, into: number[]) {
  for (const run of runsOf(item)) {
    const places = run.map((p) => place(p.x, p.y));
    for (let k = 0; k + 1 < places.length; k++)
      into.push(...(places[k] as number[]), ...(places[k + 1] as number[]));
    if (item.closed) into.push(...(places[places.length - 1] as number[]), ...(places[0] as number[]));
  }
}
