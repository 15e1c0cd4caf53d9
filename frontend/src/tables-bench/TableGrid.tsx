import { useVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useEffect, useMemo, useRef } from "react";
import { useNavigate } from "react-router";
import type { Project } from "../api/client";
import { useDrawings } from "../api/queries";
import {
  editTable,
  type Table,
  type TableColumn,
  type TableContent,
  type TableSpec,
  useTablePictures,
} from "../api/tables";
import { columnWidths, HEAD, highOf } from "./column-widths";
import { goToRow } from "./go-to-row";
import { TableLine } from "./TableLine";

type Props = {
  project: Project;
  table: Table;
  content: TableContent;
  /** The row that was led to. */
  shown: string | null;
  picked: string | null;
  onPick: (target: string) => void;
};
const BEYOND = 12; // lines drawn over and under the window
const MOST_ORDERS = 5;
const NARROW = 0.8; // of what columns need that they get at least: long texts are parted then

/** The rows of a table, those in the window alone; own columns are typed in, the others lead to what they are of. */
export function TableGrid({ project, table, content, shown, picked, onPick }: Props) {
  const scrolled = useRef<HTMLDivElement>(null);
  const { lines, spec, units } = content;
  const widths = useMemo(() => columnWidths(content), [content]);
  const tracks = widths
    .map((wide) => `minmax(${wide * NARROW}px, ${wide}fr)`)
    .concat("0")
    .join(" "); // the ways out lie over the others
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scrolled.current,
    estimateSize: (index) => highOf(spec, lines[index]),
    overscan: BEYOND,
    scrollPaddingStart: HEAD,
  });
  const drawn = rows.getVirtualItems();
  const pictures = useTablePictures(table, content, drawn[0]?.index ?? 0, drawn.at(-1)?.index ?? 0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the row that was led to is scrolled to once
  useEffect(() => {
    const at = lines.findIndex((line) => line.what === "row" && line.target === shown);
    if (at >= 0) rows.scrollToIndex(at, { align: "center" });
  }, []);
  const go = useGoing(project);
  return (
    <div ref={scrolled} className="min-h-0 flex-1 overflow-auto">
      {/* blocks and grids: a table that is laid out as one does so with all its rows at every step of a scroll */}
      <table
        className="block text-sm"
        style={{ minWidth: NARROW * widths.reduce((a, b) => a + b, 0) }}
        aria-label={table.spec.name}
        aria-rowcount={lines.length + 1}
      >
        <thead className="sticky top-0 z-10 block bg-base-100">
          <tr
            aria-rowindex={1}
            className="grid items-end border-b border-base-content/40"
            style={{ gridTemplateColumns: tracks }}
          >
            {spec.columns.map((c, k) => (
              <th
                key={c.key}
                scope="col"
                aria-sort={sortOf(spec, c.key)}
                className={`px-2 py-1 text-xs font-semibold ${units[k] ? "text-right" : "text-left"}`}
              >
                <Head column={c} table={table} />
                <Unit unit={units[k] ?? ""} lengths={project.lengths} />
              </th>
            ))}
            <th scope="col">
              <span className="sr-only">Go to</span>
            </th>
          </tr>
        </thead>
        <tbody className="relative block" style={{ height: rows.getTotalSize() }}>
          {drawn.map(({ index, key, start }) => (
            <TableLine
              key={key}
              measure={rows.measureElement}
              index={index}
              top={start}
              tracks={tracks}
              table={table}
              content={content}
              picked={picked}
              pictures={pictures}
              onPick={onPick}
              onGo={go}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

const sortOf = (spec: TableSpec, key: string) => {
  const first = spec.order?.[0];
  return first?.column !== key ? undefined : first.falling ? "descending" : "ascending";
};

/** A click sorts by the column first of all, another one the other way round, a third one no more. */
function Head({ column, table }: { column: TableColumn; table: Table }) {
  if (column.shows === "picture") return column.head;
  const sort = sortOf(table.spec, column.key);
  const next = ({ order = [] }: TableSpec) => {
    const others = order.filter((o) => o.column !== column.key);
    const asked = sort === "descending" ? [] : [{ column: column.key, falling: sort === "ascending" }];
    return { order: [...asked, ...others].slice(0, MOST_ORDERS) };
  };
  return (
    <button
      type="button"
      className="cursor-pointer text-inherit hover:underline"
      title={`Sort by ${column.head}`}
      onClick={() => editTable(table, next)}
    >
      {column.head}
      {sort && <span aria-hidden>{sort === "ascending" ? "\u00a0↑" : "\u00a0↓"}</span>}
    </button>
  );
}

function useGoing(project: Project) {
  const { data: drawings } = useDrawings(project.id);
  const navigate = useNavigate();
  return useCallback(
    (where: "model" | "plan", target: string) =>
      goToRow({ project, drawings: drawings ?? [], where, target, navigate }),
    [project, drawings, navigate],
  );
}

function Unit({ unit, lengths }: { unit: string; lengths: Project["lengths"] }) {
  const words = { length: lengths === "ft-in" ? "" : lengths, area: "m²", volume: "m³" }[unit];
  return words ? <span className="pl-1 font-normal opacity-75">{words}</span> : null;
}
