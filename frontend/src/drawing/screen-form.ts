import type { SetRun } from "./canvas/lettering";
import type { Folds } from "./folds";

/** The compact form of a drawing: layout in docs/file-formats.md. */

export type Pen = { width: number; colour: string; dash: number[] };
type ItemHead = {
  role: string;
  points: number;
  paths: number;
  closed: boolean;
  pen: Pen | null;
  fill: string | null;
  source: string;
};
export type Label = {
  role: string;
  text: string;
  x: number;
  y: number;
  size: number;
  colour: string;
  align: "left" | "centre" | "right";
  angle: number;
  source: string;
  /** Of a text that is not in the drawing face alone, in the order of the paper. */
  runs?: SetRun[];
};
export type Frame = [left: number, base: number, right: number, top: number];
export type Axes = { origin: number[]; u: number[]; v: number[]; w: number[] };
export type Item = {
  role: string;
  pen: Pen | null;
  fill: string | null;
  closed: boolean;
  path: Path2D;
  /** Paths k is points[starts[k]] to points[starts[k + 1] - 1], x and y in turn, mm on paper. */
  points: Float32Array;
  starts: Int32Array;
};
/** Where the marker of a callout stands, mm on paper. */
export type PlacedCallout = {
  source: string;
  boundary: [x: number, y: number][];
  leader: [x: number, y: number][];
  bubble: [x: number, y: number];
  radius: number;
};
/** What a touch-up did: the lines that it took away or changed, mm on paper. */
export type TouchedUp = {
  source: string;
  state: "exact" | "near" | "lost";
  finding: string;
  ghost: [x: number, y: number][][];
};
/** A place where a drawing differs from an earlier revision; `box` mm on paper. */
export type ChangedPlace = { guid: string; name: string; kind: string; what: string; box: Frame };
export type View = {
  frame: Frame;
  /** The extents before the drawing is broken, and how its parts are moved. */
  window: Frame;
  folds?: Folds;
  /** The paper that holds every stroke and text. */
  page: Frame;
  scale: number;
  empty: boolean;
  axes?: Axes;
  /** The planes of the cut from left to right, and where each begins, mm on paper. */
  leaves: (Axes & { left: number })[];
  leaking: string[];
  findings: string[];
  items: Item[];
  labels: Label[];
  links: { box: Frame; target: string }[];
  callouts: PlacedCallout[];
  /** Pictures by the name of their bytes; of sheets alone, drawings have theirs among their annotations. */
  images: { name: string; box: Frame; fade: number }[];
  touched: TouchedUp[];
  /** Of a drawing that is laid over an earlier revision: where it changed, and what marks of a revision could enclose. */
  places: ChangedPlace[];
  regions: Frame[];
};

export function parseView(data: ArrayBuffer): View {
  const length = new DataView(data).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(data, 4, length)));
  let at = 4 + length;
  const items = (head.items as ItemHead[]).map((item) => {
    const points = new Float32Array(data, at, item.points * 2);
    at += points.byteLength;
    const starts = new Int32Array(data, at, item.paths + 1);
    at += starts.byteLength;
    const path = toPath(points, starts, item.closed);
    return { role: item.role, pen: item.pen, fill: item.fill, closed: item.closed, path, points, starts };
  });
  return {
    frame: head.frame,
    window: head.window ?? head.frame,
    folds: head.folds?.length ? head.folds : undefined,
    page: head.page,
    scale: head.scale ?? 1,
    empty: head.empty ?? false,
    axes: head.axes,
    leaves: head.leaves ?? [],
    leaking: head.leaking ?? [],
    findings: head.findings ?? [],
    items,
    labels: head.labels,
    links: head.links,
    callouts: head.callouts ?? [],
    images: head.images ?? [],
    touched: head.touched ?? [],
    places: head.places ?? [],
    regions: head.regions ?? [],
  };
}

function toPath(points: Float32Array, starts: Int32Array, closed: boolean): Path2D {
  const path = new Path2D();
  for (let k = 0; k + 1 < starts.length; k++) {
    const first = starts[k] as number;
    const last = starts[k + 1] as number;
    path.moveTo(points[2 * first] as number, points[2 * first + 1] as number);
    for (let i = first + 1; i < last; i++) path.lineTo(points[2 * i] as number, points[2 * i + 1] as number);
    // ends are round, so that a line back to the start looks the same as a closed path, which takes browsers far longer
    if (closed) path.lineTo(points[2 * first] as number, points[2 * first + 1] as number);
  }
  return path;
}
