import type { Places, Thing } from "../../api/client";
import type { Place, Snap } from "../../desk/mode";
import type { View } from "../../drawing/screen-form";
import { between, distance } from "./plan-geometry";

type Segment = [a: Place, b: Place];
const FACES = new Set(["cut structure", "cut other"]);
const CELL = 1; // metres; segments are looked up by the squares that they touch
const LEAST = 0.05; // metres; shorter sides have no middle of their own
const PARALLEL = Math.sin((1.5 * Math.PI) / 180);

/** Sides of cut faces by squares of the plan, built once for a view. */
class Faces {
  private readonly cells = new Map<string, Segment[]>();

  constructor(view: View) {
    const metres = view.scale / 1000;
    for (const item of view.items) {
      if (!FACES.has(item.role)) continue;
      for (let k = 0; k + 1 < item.starts.length; k++)
        for (let i = item.starts[k] as number; i + 1 < (item.starts[k + 1] as number); i++)
          this.add([
            [(item.points[2 * i] as number) * metres, (item.points[2 * i + 1] as number) * metres],
            [(item.points[2 * i + 2] as number) * metres, (item.points[2 * i + 3] as number) * metres],
          ]);
    }
  }

  private add(segment: Segment) {
    const steps = Math.max(1, Math.ceil((2 * distance(...segment)) / CELL));
    let last = "";
    for (let s = 0; s <= steps; s++) {
      const cell = cellOf(between(...segment, s / steps));
      if (cell === last) continue;
      last = cell;
      const others = this.cells.get(cell);
      if (others) others.push(segment);
      else this.cells.set(cell, [segment]);
    }
  }

  near([x, y]: Place, reach: number): Segment[] {
    const found = new Set<Segment>();
    for (let i = Math.floor((x - reach) / CELL); i <= Math.floor((x + reach) / CELL); i++)
      for (let j = Math.floor((y - reach) / CELL); j <= Math.floor((y + reach) / CELL); j++)
        for (const segment of this.cells.get(`${i} ${j}`) ?? []) found.add(segment);
    return [...found];
  }
}

const cellOf = ([x, y]: Place) => `${Math.floor(x / CELL)} ${Math.floor(y / CELL)}`;

/** The foot of p on the line through a and b, and how far along it lies (0 at a, 1 at b). */
function foot(p: Place, [a, b]: Segment): { at: Place; share: number } {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const share = ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / (dx * dx + dy * dy || 1);
  return { at: [a[0] + dx * share, a[1] + dy * share], share };
}

/** The middle of the box of an outline. */
export function middleOf(thing: Thing): Place {
  const [xs, ys] = [thing.outline.map((p) => p[0]), thing.outline.map((p) => p[1])];
  return [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
}

const OPENINGS = new Set(["door", "window"]);
const indices = new WeakMap<View, Faces>();

/** What a plan offers to draw by. `lines` are the cutting lines on it, by their words. */
export class Snapper {
  constructor(
    private readonly view: View | null,
    private readonly places: Places | undefined,
    private readonly lines: { word: string; line: Place[] }[],
  ) {}

  /** The best place within `reach` metres of p; `from` is the other end of what is being drawn. Ends and middles come
   * before lines, lines before faces. */
  find(p: Place, reach: number, from?: Place): Snap | null {
    const sides = this.faces()?.near(p, reach) ?? [];
    const points: Snap[] = [
      ...sides.flat().map((at) => ({ at, word: "end" })),
      ...sides
        .filter((s) => distance(...s) > LEAST)
        .map(([a, b]) => ({ at: between(a, b, 0.5), word: "mid-point" })),
      ...this.openings().map((thing) => ({
        at: middleOf(thing),
        word: `middle of ${thing.name || thing.kind}`,
      })),
      ...this.lines.flatMap(({ word, line }) => line.map((at) => ({ at, word: `end of ${word}` }))),
    ];
    const square = from ? sides.map((s) => ({ ...foot(from, s), word: "square to the face" })) : [];
    const inside = square.filter((s) => s.share >= 0 && s.share <= 1);
    const drawn = [...this.grid(), ...this.lines.flatMap(linesOf)].map(({ word, segment }) => ({
      ...foot(p, segment),
      word,
    }));
    const onSides = sides
      .map((s) => ({ ...foot(p, s), word: "face" }))
      .filter((s) => s.share >= 0 && s.share <= 1);
    return (
      nearest(p, reach, points) ??
      nearest(p, reach, inside) ??
      nearest(p, reach, drawn) ??
      (from && this.parallel(p, reach, from)) ??
      nearest(p, reach, onSides)
    );
  }

  /** How far to move a line square to itself (metres to its left) so that it passes through the middle of something
   * beside it, or lies on a grid line. */
  across(line: Place[], reach: number): { by: number; word: string } | null {
    const [a, b] = [line[0] as Place, line.at(-1) as Place];
    const off = (p: Place) => {
      const { at, share } = foot(p, [a, b]);
      const left = (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 0 ? 1 : -1;
      return share < 0 || share > 1 ? Number.POSITIVE_INFINITY : left * distance(p, at);
    };
    const found = [
      ...this.openings().map((t) => ({
        by: off(middleOf(t)),
        word: `through the middle of ${t.name || t.kind}`,
      })),
      ...this.grid()
        .filter(({ segment }) => isParallel(segment, [a, b]))
        .map(({ segment, word }) => ({ by: off(between(...segment, 0.5)), word: `on ${word}` })),
    ].filter((s) => Math.abs(s.by) <= reach);
    return found.sort((p, q) => Math.abs(p.by) - Math.abs(q.by))[0] ?? null;
  }

  /** The direction of the nearest face within `reach` metres of p. */
  direction(p: Place, reach: number): Place | null {
    const sides = this.faces()?.near(p, reach) ?? [];
    const away = (side: Segment) => {
      const { at, share } = foot(p, side);
      return distance(p, share < 0 ? side[0] : share > 1 ? side[1] : at);
    };
    const side = sides.filter((s) => away(s) <= reach).sort((a, b) => away(a) - away(b))[0];
    return side ? [side[1][0] - side[0][0], side[1][1] - side[0][1]] : null;
  }

  private parallel(p: Place, reach: number, from: Place): Snap | null {
    const sides = this.faces()?.near(from, 2) ?? [];
    const long = sides.filter((s) => distance(...s) > 1 && isParallel(s, [from, p]))[0];
    if (!long) return null;
    const along: Segment = [from, [from[0] + long[1][0] - long[0][0], from[1] + long[1][1] - long[0][1]]];
    const { at } = foot(p, along);
    return distance(at, p) <= reach ? { at, word: "parallel" } : null;
  }

  private faces(): Faces | null {
    if (!this.view) return null;
    const known = indices.get(this.view);
    if (known) return known;
    const made = new Faces(this.view);
    indices.set(this.view, made);
    return made;
  }

  private openings = () => (this.places?.things ?? []).filter((t) => OPENINGS.has(t.kind));
  private grid = () =>
    (this.places?.grid ?? []).map((g) => ({
      segment: [g.start, g.end] as Segment,
      word: `grid ${g.name}`,
    }));
}

const isParallel = ([a, b]: Segment, [c, d]: Segment) => {
  const cross = (b[0] - a[0]) * (d[1] - c[1]) - (b[1] - a[1]) * (d[0] - c[0]);
  return Math.abs(cross) < PARALLEL * distance(a, b) * distance(c, d);
};

const linesOf = ({ word, line }: { word: string; line: Place[] }) =>
  line.slice(1).map((p, k) => ({ segment: [line[k] as Place, p] as Segment, word: `along ${word}` }));

function nearest(p: Place, reach: number, found: Snap[]): Snap | null {
  let best: Snap | null = null;
  let least = reach;
  for (const { at, word } of found) {
    const away = distance(p, at);
    if (away <= least) {
      best = { at, word };
      least = away;
    }
  }
  return best;
}

const OF_VIEWS = new WeakMap<View, Snapper>();
const NOTHING = new Snapper(null, undefined, []);

/** What is drawn in a view, and nothing else, as places to snap to. */
export function drawnIn(view: View | null): Snapper {
  if (!view) return NOTHING;
  const found = OF_VIEWS.get(view) ?? new Snapper(view, undefined, []);
  OF_VIEWS.set(view, found);
  return found;
}
