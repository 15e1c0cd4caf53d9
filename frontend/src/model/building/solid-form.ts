/** The compact form of a part of the model: layout in docs/file-formats.md. */

export type SolidElement = {
  guid: string;
  kind: string;
  name: string;
  /** What it shows: materials of the model (-1: unknown) and how many triangles of each, in their order. */
  materials: [material: number, triangles: number][];
  /** Its triangles, and sharp edges: from which on, how many. */
  triangles: [start: number, count: number];
  edges: [start: number, count: number];
};
export type SolidPart = {
  storey: string;
  low: [number, number, number];
  step: [number, number, number];
  elements: SolidElement[];
  positions: Uint16Array;
  triangles: Uint32Array;
  edges: Uint32Array;
};

type Head = {
  storey: string;
  low: [number, number, number];
  step: [number, number, number];
  vertices: number;
  triangles: number;
  edges: number;
  elements: [string, string, string, [number, number][], number][];
};

export function parsePart(data: ArrayBuffer): SolidPart {
  const length = new DataView(data).getUint32(0, true);
  const head: Head = JSON.parse(new TextDecoder().decode(new Uint8Array(data, 4, length)));
  let at = 4 + length;
  const positions = new Uint16Array(data, at, head.vertices * 3);
  at += Math.ceil(positions.byteLength / 4) * 4;
  const triangles = new Uint32Array(data, at, head.triangles * 3);
  at += triangles.byteLength;
  const edges = new Uint32Array(data, at, head.edges * 2);
  let [t, e] = [0, 0];
  const elements = head.elements.map(([guid, kind, name, materials, ends]) => {
    const many = materials.reduce((sum, [, count]) => sum + count, 0);
    const one: SolidElement = { guid, kind, name, materials, triangles: [t, many], edges: [e, ends] };
    t += many;
    e += ends;
    return one;
  });
  const { storey, low, step } = head;
  return { storey, low, step, elements, positions, triangles, edges };
}
