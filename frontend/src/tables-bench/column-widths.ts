import type { TableContent } from "../api/tables";

const LETTER = 7.2; // px that a letter of a row takes
const HEAD_LETTER = 6.4; // and one of a head
const ARROW = 1.5; // letters behind one, of the order
const PAD = 18;
const LEAST = 44;
const MOST = 320;
const TYPED = 130; // px; the least of a column that is typed in
export const PICTURE = 56; // px
const LINE = 25; // px
export const HEAD = 26; // px

/** How wide each column is, px: by its longest text, so that scrolling moves none. */
export function columnWidths({ spec, lines }: TableContent): number[] {
  return spec.columns.map((column, k) => {
    if (column.shows === "picture") return PICTURE + PAD;
    let longest = 0;
    for (const line of lines)
      if (line.what !== "group") longest = Math.max(longest, line.cells[k]?.length ?? 0);
    const head = Math.max(...column.head.split(/\s+/).map((word) => word.length + ARROW)) * HEAD_LETTER;
    const wide = Math.max(longest * LETTER, head) + PAD;
    return Math.min(MOST, Math.max(column.shows === "own" ? TYPED : LEAST, wide));
  });
}

/** How high a line is before anybody has seen it, px. */
export function highOf(spec: TableContent["spec"], line: TableContent["lines"][number] | undefined): number {
  const pictured = line?.what === "row" && spec.columns.some((c) => c.shows === "picture");
  return pictured ? PICTURE + 5 : LINE;
}
