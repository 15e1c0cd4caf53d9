import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { Project } from "../api/client";
import { useDrawings } from "../api/queries";
import { type Table, type TableContent, typeCells } from "../api/tables";
import { goToRow } from "./go-to-row";

type Props = { project: Project; table: Table; content: TableContent; shown: string | null };
const PICTURE = 56; // px

/** The rows of a table; own columns are typed in, the others lead to what they are of. */
export function TableGrid({ project, table, content, shown }: Props) {
  const { data: drawings = [] } = useDrawings(project.id);
  const navigate = useNavigate();
  const [picked, setPicked] = useState<string | null>(shown);
  const row = useRef<HTMLTableRowElement>(null);
  useEffect(() => {
    row.current?.scrollIntoView({ block: "center" }); // gives a promise in newer browsers, which no effect may
  }, []);
  const pictures = new Map(content.pictures.map((p) => [`${p.target} ${p.column}`, p]));
  const columns = content.spec.columns;
  const go = (where: "model" | "plan", target: string) =>
    goToRow({ project, drawings, where, target, navigate });
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <table className="w-full border-collapse text-sm" aria-label={table.spec.name}>
        <thead className="sticky top-0 z-10 bg-base-100">
          <tr>
            {columns.map((c, k) => (
              <th
                key={c.key}
                scope="col"
                className={`border-b border-base-content/40 px-2 py-1 text-xs font-semibold ${content.units[k] ? "text-right" : "text-left"}`}
              >
                {c.head}
                <Unit unit={content.units[k] ?? ""} lengths={project.lengths} />
              </th>
            ))}
            <th scope="col" className="w-24 border-b border-base-content/40">
              <span className="sr-only">Go to</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {content.lines.map((line, n) => {
            const key = line.target || `${line.what} ${n}`;
            if (line.what === "group")
              return (
                <tr key={key} className="bg-base-200">
                  <th
                    colSpan={columns.length + 1}
                    scope="rowgroup"
                    className="px-2 py-1 text-left"
                    style={{ paddingLeft: 8 + 16 * line.level }}
                  >
                    {line.cells[0]?.text}
                  </th>
                </tr>
              );
            const here = line.what === "row" && line.target === picked;
            return (
              <tr
                key={key}
                ref={here ? row : undefined}
                aria-selected={here}
                className={`group border-b border-base-300 ${line.what === "total" ? "font-semibold" : "hover:bg-base-200/60"} ${here ? "bg-primary/10" : ""}`}
                onClick={() => line.what === "row" && setPicked(line.target)}
              >
                {columns.map((c, k) => {
                  const picture = pictures.get(`${line.target} ${c.key}`);
                  const cell = line.cells[k];
                  return (
                    <td key={c.key} className={`px-2 py-0.5 ${content.units[k] ? "figures text-right" : ""}`}>
                      {picture?.path ? (
                        <Picture path={picture.path} wide={picture.wide} high={picture.high} />
                      ) : c.shows === "own" && line.what === "row" ? (
                        <OwnCell
                          label={`${c.head} of ${line.cells[0]?.text ?? "row"}`}
                          text={cell?.text ?? ""}
                          onEnter={(text) => typeCells(table, [{ column: c.key, target: line.target, text }])}
                        />
                      ) : (
                        cell?.text
                      )}
                    </td>
                  );
                })}
                <td className="px-1 text-right whitespace-nowrap">
                  {line.what === "row" && (
                    <span
                      className={here ? "" : "opacity-0 group-hover:opacity-100 focus-within:opacity-100"}
                    >
                      <Going target={line.target} onGo={go} />
                    </span>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

function Going({
  target,
  onGo,
}: {
  target: string;
  onGo: (where: "model" | "plan", target: string) => void;
}) {
  const element = target.startsWith("element:");
  if (!element && !target.startsWith("sheet:") && !target.startsWith("drawing:")) return null;
  return (
    <>
      {element && (
        <button type="button" className="btn btn-ghost btn-xs" onClick={() => onGo("model", target)}>
          Model
        </button>
      )}
      <button type="button" className="btn btn-ghost btn-xs" onClick={() => onGo("plan", target)}>
        {element ? "Plan" : "Open"}
      </button>
    </>
  );
}

function Unit({ unit, lengths }: { unit: string; lengths: Project["lengths"] }) {
  const words = { length: lengths === "ft-in" ? "" : lengths, area: "m²", volume: "m³" }[unit];
  return words ? <span className="pl-1 font-normal opacity-75">{words}</span> : null;
}

function Picture({ path, wide, high }: { path: string; wide: number; high: number }) {
  const pad = Math.max(wide, high) * 0.03;
  return (
    <svg
      role="img"
      aria-label="Picture of the element"
      width={PICTURE}
      height={PICTURE}
      viewBox={`${-pad} ${-pad} ${wide + 2 * pad} ${high + 2 * pad}`}
    >
      <path d={path} fill="none" stroke="currentColor" strokeWidth={1} vectorEffect="non-scaling-stroke" />
    </svg>
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
      className="input input-xs w-full min-w-24"
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
