import { X } from "lucide-react";
import { editTable, type Table, type TableSpec } from "../api/tables";
import { Check } from "../fields/Choice";
import { Part } from "../fields/Part";
import { TextField } from "../fields/TextField";

type Filter = NonNullable<TableSpec["filters"]>[number];
const HOW = ["is", "is not", "contains", "at least", "at most", "is empty", "is filled"] as const;
const WITHOUT_VALUE = ["is empty", "is filled"];

/** What stays, what stands together, in which order, and totals. */
export function TableRules({ table }: { table: Table }) {
  const spec = table.spec;
  const columns = spec.columns.filter((c) => c.shows !== "picture");
  const head = (key: string) => columns.find((c) => c.key === key)?.head ?? key;
  const filters = spec.filters ?? [];
  const groups = spec.groups ?? [];
  const order = spec.order ?? [];
  const filter = (k: number, part: Partial<Filter>) =>
    editTable(table, (now) => ({
      filters: (now.filters ?? []).map((f, n) => (n === k ? { ...f, ...part } : f)),
    }));
  return (
    <>
      <Part title="Which rows">
        {filters.map((f, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: two filters may say the same
          <div key={k} className="flex flex-col gap-1 border-b border-base-300 pb-1">
            <div className="flex gap-1">
              <Columns
                label="Column of the filter"
                columns={columns}
                value={f.column}
                onChange={(column) => filter(k, { column })}
              />
              <select
                className="select select-xs min-w-0 flex-1"
                aria-label="How it filters"
                value={f.how}
                onChange={(event) => filter(k, { how: event.target.value as Filter["how"] })}
              >
                {HOW.map((how) => (
                  <option key={how}>{how}</option>
                ))}
              </select>
              <Away
                label={`Without the filter by ${head(f.column)}`}
                onClick={() =>
                  editTable(table, (now) => ({ filters: (now.filters ?? []).filter((_, n) => n !== k) }))
                }
              />
            </div>
            {!WITHOUT_VALUE.includes(f.how) && (
              <TextField
                labelWidth="w-20"
                most={300}
                label="Value"
                value={f.value ?? ""}
                onEnter={(value) => filter(k, { value })}
              />
            )}
          </div>
        ))}
        <Adding
          label="Filter by"
          columns={columns}
          onAdd={(column) =>
            editTable(table, (now) => ({
              filters: [...(now.filters ?? []), { column, how: "is filled", value: "" }],
            }))
          }
        />
      </Part>
      <Part title="Groups and order">
        {groups.map((key) => (
          <Named
            key={key}
            words={`Grouped by ${head(key)}`}
            away={`Without groups by ${head(key)}`}
            onAway={() =>
              editTable(table, (now) => ({ groups: (now.groups ?? []).filter((g) => g !== key) }))
            }
          />
        ))}
        {order.map((o) => (
          <div key={o.column} className="flex items-center gap-1">
            <span className="min-w-0 flex-1 truncate">Sorted by {head(o.column)}</span>
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              onClick={() =>
                editTable(table, (now) => ({
                  order: (now.order ?? []).map((other) =>
                    other.column === o.column ? { ...other, falling: !other.falling } : other,
                  ),
                }))
              }
            >
              {o.falling ? "falling" : "rising"}
            </button>
            <Away
              label={`Not sorted by ${head(o.column)}`}
              onClick={() =>
                editTable(table, (now) => ({
                  order: (now.order ?? []).filter((other) => other.column !== o.column),
                }))
              }
            />
          </div>
        ))}
        <Adding
          label="Group by"
          columns={columns.filter((c) => !groups.includes(c.key))}
          onAdd={(key) => editTable(table, (now) => ({ groups: [...(now.groups ?? []), key].slice(-3) }))}
        />
        <Adding
          label="Sort by"
          columns={columns.filter((c) => !order.some((o) => o.column === c.key))}
          onAdd={(column) =>
            editTable(table, (now) => ({
              order: [...(now.order ?? []), { column, falling: false }].slice(-5),
            }))
          }
        />
        <Check
          label="Totals"
          checked={spec.totals ?? true}
          onChange={(totals) => editTable(table, () => ({ totals }))}
        />
      </Part>
    </>
  );
}

type Choosable = { key: string; head: string }[];

function Columns(props: {
  label: string;
  columns: Choosable;
  value: string;
  onChange: (key: string) => void;
}) {
  return (
    <select
      className="select select-xs min-w-0 flex-1"
      aria-label={props.label}
      value={props.value}
      onChange={(event) => props.onChange(event.target.value)}
    >
      {props.columns.map((c) => (
        <option key={c.key} value={c.key}>
          {c.head}
        </option>
      ))}
    </select>
  );
}

function Adding({
  label,
  columns,
  onAdd,
}: {
  label: string;
  columns: Choosable;
  onAdd: (key: string) => void;
}) {
  return (
    <select
      className="select select-xs"
      aria-label={label}
      value=""
      onChange={(event) => onAdd(event.target.value)}
    >
      <option value="" disabled>
        {label} …
      </option>
      {columns.map((c) => (
        <option key={c.key} value={c.key}>
          {c.head}
        </option>
      ))}
    </select>
  );
}

function Named({ words, away, onAway }: { words: string; away: string; onAway: () => void }) {
  return (
    <div className="flex items-center gap-1">
      <span className="min-w-0 flex-1 truncate">{words}</span>
      <Away label={away} onClick={onAway} />
    </div>
  );
}

function Away({ label, onClick }: { label: string; onClick: () => void }) {
  return (
    <button type="button" className="btn btn-ghost btn-xs btn-square" aria-label={label} onClick={onClick}>
      <X size={12} />
    </button>
  );
}
