import { memo, useEffect, useState } from "react";
import { type Table, type TableContent, type TablePictures, typeCells } from "../api/tables";
import { LinePicture } from "../fields/LinePicture";
import { PICTURE } from "./column-widths";

type Go = (where: "model" | "plan", target: string) => void;
type Props = {
  measure: (row: HTMLTableRowElement | null) => void;
  index: number;
  top: number;
  tracks: string;
  table: Table;
  content: TableContent;
  picked: string | null;
  pictures: TablePictures;
  onPick: (target: string) => void;
  onGo: Go;
};

const WAY = "cursor-pointer rounded px-1.5 py-0.5 text-xs font-semibold hover:bg-base-300";
const GOES = "sticky right-0 flex items-center justify-end self-stretch px-1 whitespace-nowrap";
const PLACED = "absolute top-0 left-0 grid w-full items-center contain-content";

/** One line of a table: a row, the head of a group, a total. */
export const TableLine = memo(function TableLine(props: Props) {
  const { measure, index, top, tracks, table, content, picked, pictures, onPick, onGo } = props;
  const { columns } = content.spec;
  const [over, setOver] = useState(false);
  const line = content.lines[index];
  if (!line) return null;
  const placed = {
    ref: measure,
    "data-index": index,
    "aria-rowindex": index + 2,
    style: { transform: `translateY(${top}px)`, gridTemplateColumns: tracks },
  };
  if (line.what === "group")
    return (
      <tr {...placed} className={`${PLACED} bg-base-200`}>
        <th
          scope="rowgroup"
          className="col-span-full px-2 py-1 text-left"
          style={{ paddingLeft: 8 + 16 * line.level }}
        >
          {line.cells[0]}
        </th>
      </tr>
    );
  const row = line.what === "row";
  const here = row && line.target === picked;
  return (
    <tr
      {...placed}
      aria-selected={here}
      tabIndex={row ? 0 : undefined}
      onFocus={() => row && onPick(line.target)}
      onMouseEnter={() => setOver(true)}
      onMouseLeave={() => setOver(false)}
      className={`${PLACED} border-b border-base-300 ${row ? "hover:bg-base-200/60" : "font-semibold"} ${here ? "bg-primary/10" : ""}`}
      onClick={() => row && onPick(line.target)}
    >
      {columns.map((c, k) => {
        const text = line.cells[k] ?? "";
        return (
          <td
            key={c.key}
            className={`min-w-0 px-2 py-0.5 wrap-anywhere ${content.units[k] ? "figures text-right" : ""}`}
          >
            {row && c.shows === "picture" ? (
              <LinePicture
                label="Picture of the element"
                size={PICTURE}
                {...pictures.get(`${line.target} ${c.key}`)}
              />
            ) : row && c.shows === "own" ? (
              <OwnCell
                label={`${c.head} of ${line.cells[0] || "row"}`}
                text={text}
                onEnter={(typed) => typeCells(table, [{ column: c.key, target: line.target, text: typed }])}
              />
            ) : (
              text
            )}
          </td>
        );
      })}
      <td className={GOES}>
        {row && (here || over) && (
          <span className="bg-base-100/90">
            <Going target={line.target} onGo={onGo} />
          </span>
        )}
      </td>
    </tr>
  );
});

function Going({ target, onGo }: { target: string; onGo: Go }) {
  const element = target.startsWith("element:");
  if (!element && !target.startsWith("sheet:") && !target.startsWith("drawing:")) return null;
  return (
    <>
      {element && (
        <button type="button" className={WAY} onClick={() => onGo("model", target)}>
          Model
        </button>
      )}
      <button type="button" className={WAY} onClick={() => onGo("plan", target)}>
        {element ? "Plan" : "Open"}
      </button>
    </>
  );
}

/** A cell that is typed in: Enter or leaving it saves, Escape leaves it as it was. */
function OwnCell({ label, text, onEnter }: { label: string; text: string; onEnter: (text: string) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new text from outside ends what was being typed
  useEffect(() => setTyped(null), [text]);
  const enter = () => {
    if (typed !== null && typed.trim() !== text) onEnter(typed.trim());
  };
  return (
    <input
      className="h-6 w-full min-w-24 rounded-field border border-base-content/25 bg-base-100 px-1.5 text-xs"
      aria-label={label}
      maxLength={200}
      value={typed ?? text}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={enter}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
        if (event.key === "Escape") setTyped(null);
      }}
    />
  );
}
