import type { TableContent } from "../api/tables";

const PAD = 18; // px on both sides of what stands in a cell, and a little
const ARROW = 12; // px behind a head, of the order
const LEAST = 44;
const MOST = 320;
const TYPED = 130; // px; the least of a column that is typed in
const MEASURED = 5; // of the longest texts of a column
export const PICTURE = 56; // px
const LINE = 25; // px
const TYPED_LINE = 29; // px; of one with a cell that is typed in
const GROUP = 28; // px
export const HEAD = 26; // px

/** How wide each column is, px: by its longest text, so that scrolling moves none. */
export function columnWidths({ spec, lines, units }: TableContent): number[] {
  const wide = measuring();
  const told = lines.filter((line) => line.what !== "group");
  return spec.columns.map((column, k) => {
    if (column.shows === "picture") return PICTURE + PAD;
    const texts = new Set(told.map((line) => line.cells[k] ?? ""));
    const longest = [...texts].sort((a, b) => b.length - a.length).slice(0, MEASURED);
    const text = Math.max(...longest.map((one) => wide(one, units[k] ? "figures" : "words")), 0);
    const head = Math.max(...column.head.split(/\s+/).map((word) => wide(word, "head"))) + ARROW;
    const least = column.shows === "own" ? TYPED : LEAST;
    return Math.min(MOST, Math.max(least, Math.ceil(Math.max(text, head)) + PAD));
  });
}

const FONTS = { words: "14px", figures: "14px", head: "600 12px" };

/** How wide texts are in the faces of the page, px. */
function measuring(): (text: string, as: keyof typeof FONTS) => number {
  const pen = document.createElement("canvas").getContext("2d");
  const words = getComputedStyle(document.body).fontFamily;
  const face = { words, head: words, figures: '"Spline Sans Mono", monospace' };
  return (text, as) => {
    if (!pen) return text.length * 8;
    pen.font = `${FONTS[as]} ${face[as]}`;
    return pen.measureText(text).width;
  };
}

/** How high a line is as long as none of its texts is parted, px. */
export function highOf(spec: TableContent["spec"], line: TableContent["lines"][number] | undefined): number {
  if (line?.what === "group") return GROUP;
  const shows = (what: string) => line?.what === "row" && spec.columns.some((c) => c.shows === what);
  return shows("picture") ? PICTURE + 5 : shows("own") ? TYPED_LINE : LINE;
}
