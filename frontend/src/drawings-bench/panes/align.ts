import type { Cut, Drawing } from "../../api/client";
import type { Place } from "../../desk/mode";
import type { SharedAxis } from "../../drawing/aligned";
import { turnedBy } from "../../drawing/camera";
import { legsOf, onPaper } from "../cutting/plan-geometry";

export type Pane = { drawing: Drawing; cut: Cut; scale: number };
type Line = { start: Place; along: Place };
const PARALLEL = 0.9998; // cosine of about one degree

/** Left end and direction of the line of an upright cut as it is drawn; none where it turns. */
function lineOf(cut: Cut): Line | null {
  if (cut.kind === "plan" || cut.kind === "plane" || cut.kind === "blank") return null;
  const legs =
    cut.kind === "section"
      ? legsOf(cut)
      : [{ a: cut.line[0] as Place, b: cut.line[1] as Place, depth: null }];
  const lines = legs.map(({ a, b }): Line => {
    const [from, to] = cut.look === "right" ? [b, a] : [a, b];
    const length = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
    return { start: from, along: [(to[0] - from[0]) / length, (to[1] - from[1]) / length] };
  });
  const first = cut.look === "right" ? lines.at(-1) : lines[0];
  if (!first || lines.some((l) => dot(l.along, first.along) < PARALLEL)) return null;
  return first;
}

const dot = (a: Place, b: Place) => a[0] * b[0] + a[1] * b[1];

export type AlignedPair = { source: SharedAxis; result: SharedAxis };

/** How two drawings lie on one axis: a plan turned so that the line of the drawing under it lies level; upright drawings
 * one over the other along parallel lines, or beside each other on the same heights. Null where they share none. */
export function alignedPair(
  source: Pane | undefined,
  result: Pane | undefined,
  stacked: boolean,
): AlignedPair | null {
  if (!source || !result) return null;
  const line = lineOf(result.cut);
  if (!line) return null;
  const pair = `${source.drawing.id} ${result.drawing.id}`;
  const [own, other] = [
    { pair: `${pair} along`, axis: "x" as const, turn: 0, leads: true, zero: 0, scale: result.scale },
    { pair: `${pair} along`, axis: "x" as const, turn: 0, leads: false, zero: 0, scale: source.scale },
  ];
  if (source.cut.kind === "plan") {
    const turn = -Math.atan2(line.along[1], line.along[0]);
    const start = turnedBy(turn, onPaper(line.start, source.scale));
    return { result: own, source: { ...other, turn, zero: start.x, middle: start.y } };
  }
  const above = lineOf(source.cut);
  if (!above) return null;
  if (stacked && dot(above.along, line.along) > PARALLEL) {
    const by: Place = [above.start[0] - line.start[0], above.start[1] - line.start[1]];
    return { result: own, source: { ...other, zero: (-dot(by, line.along) * 1000) / source.scale } };
  }
  const level = { pair: `${pair} levels`, axis: "y" as const };
  return { result: { ...own, ...level }, source: { ...other, ...level } };
}
