import { ArrowDown, ArrowUp, X } from "lucide-react";
import { useState } from "react";
import { editTable, type Table, type TableColumn, type TableContent } from "../api/tables";
import { Choice } from "../fields/Choice";
import { NumberField } from "../fields/NumberField";
import { Part } from "../fields/Part";
import { TextField } from "../fields/TextField";
import { freeKey, shownChoices, shownOf } from "./table-words";

const TOTALS = [
  ["none", "no total"],
  ["sum", "sum"],
  ["count", "how many"],
] as const;

/** The columns of a table: what each shows, its head, total and width; more of them, in another order. */
export function TableColumns({ table, content }: { table: Table; content: TableContent }) {
  const columns = table.spec.columns;
  const [open, setOpen] = useState<string | null>(null);
  const save = (next: (columns: TableColumn[]) => TableColumn[]) =>
    editTable(table, (spec) => ({ columns: next(spec.columns) }));
  const change = (key: string, part: Partial<TableColumn>) =>
    save((now) => now.map((c) => (c.key === key ? { ...c, ...part } : c)));
  const move = (key: string, by: number) =>
    save((now) => {
      const next = [...now];
      const at = next.findIndex((c) => c.key === key);
      const [one] = next.splice(at, 1);
      if (one) next.splice(at + by, 0, one);
      return next;
    });
  const add = (shown: string) => {
    const { shows, name, head } = shownAs(shown, content);
    const start = shows === "formula" ? (columns.find((c) => c.shows === "field")?.key ?? "1") : name;
    save((now) => {
      const key = shows === "field" && !now.some((c) => c.key === name) ? name : freeKey(head, now);
      return [...now, { key, head, shows, name: start, decimals: null, total: "none", wide: 0 }];
    }).then((made) => setOpen(made?.spec.columns.at(-1)?.key ?? null));
  };
  return (
    <Part title="Columns">
      <ol className="flex flex-col gap-0.5">
        {columns.map((c, k) => (
          <li key={c.key} className="flex flex-col gap-1">
            <div className="flex items-center gap-0.5">
              <button
                type="button"
                className="min-w-0 flex-1 truncate rounded px-1 text-left hover:bg-base-200"
                aria-expanded={open === c.key}
                onClick={() => setOpen(open === c.key ? null : c.key)}
              >
                {c.head}
              </button>
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`${c.head} farther left`}
                disabled={k === 0}
                onClick={() => move(c.key, -1)}
              >
                <ArrowUp size={12} />
              </button>
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`${c.head} farther right`}
                disabled={k === columns.length - 1}
                onClick={() => move(c.key, 1)}
              >
                <ArrowDown size={12} />
              </button>
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`Without ${c.head}`}
                disabled={columns.length === 1}
                onClick={() => save((now) => now.filter((other) => other.key !== c.key))}
              >
                <X size={12} />
              </button>
            </div>
            {open === c.key && (
              <div className="flex flex-col gap-1 border-l-2 border-base-300 pl-2">
                <TextField
                  labelWidth="w-20"
                  most={300}
                  label="Head"
                  value={c.head}
                  onEnter={(head) => change(c.key, { head })}
                />
                <Choice
                  label="Shows"
                  value={shownOf(c)}
                  options={shownChoices(content)}
                  onChange={(shown) => {
                    const { shows, name } = shownAs(shown, content);
                    change(c.key, { shows, name: shows === "formula" ? "1" : name });
                  }}
                />
                {c.shows === "formula" && (
                  <TextField
                    labelWidth="w-20"
                    most={300}
                    label="Formula"
                    value={c.name ?? ""}
                    title={`Of ${[...new Set([...columns.map((o) => o.key), ...content.fields.map((f) => f.key)])].join(", ")}; lengths count in metres`}
                    onEnter={(name) => change(c.key, { name })}
                  />
                )}
                <Choice
                  label="Total"
                  value={c.total ?? "none"}
                  options={TOTALS}
                  onChange={(total) => change(c.key, { total })}
                />
                <NumberField
                  label="On sheets"
                  unit="mm"
                  value={c.wide || null}
                  placeholder="as needed"
                  least={0}
                  most={400}
                  onChange={(wide) => change(c.key, { wide })}
                />
              </div>
            )}
          </li>
        ))}
      </ol>
      <select
        className="select select-xs"
        aria-label="Add a column"
        value=""
        onChange={(event) => add(event.target.value)}
      >
        <option value="" disabled>
          Add a column …
        </option>
        {shownChoices(content).map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </select>
    </Part>
  );
}

function shownAs(shown: string, content: TableContent) {
  const at = shown.indexOf(" ");
  const [shows, name] = [shown.slice(0, at) as NonNullable<TableColumn["shows"]>, shown.slice(at + 1)];
  const words: Record<string, string> = { own: "Remark", formula: "Formula", picture: "Picture" };
  const head =
    shows === "field"
      ? (content.fields.find((f) => f.key === name)?.head ?? name)
      : shows === "property"
        ? name.slice(name.indexOf(": ") + 2)
        : (words[shows] ?? shows);
  return { shows, name, head };
}
