import { useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import type { Project } from "../api/client";
import {
  addTable,
  deleteTable,
  editTable,
  type Table,
  useTableContent,
  useTableKinds,
  useTables,
} from "../api/tables";
import { TextField } from "../fields/TextField";
import { PickedRow } from "./PickedRow";
import { TableColumns } from "./TableColumns";
import { TableFiles } from "./TableFiles";
import { TableGrid } from "./TableGrid";
import { TableRules } from "./TableRules";
import { kindWords } from "./table-words";

/** The tables bench: doors, windows, rooms, walls, materials as rows. */
export function TablesBench({ project }: { project: Project }) {
  const { data: tables = [], isSuccess } = useTables(project.id);
  const { table: chosen } = useParams();
  const navigate = useNavigate();
  const go = (id: number | null) => navigate(`/projects/${project.id}/tables${id === null ? "" : `/${id}`}`);
  const table = tables.find((t) => t.id === Number(chosen)) ?? tables[0];
  return (
    <div className="grid h-full grid-cols-[200px_minmax(0,1fr)_280px]">
      <nav aria-label="Tables" className="flex min-h-0 flex-col border-r border-base-300">
        <h2 className="flex h-8 shrink-0 items-center border-b border-base-300 px-3 font-semibold">Tables</h2>
        <ul className="min-h-0 flex-1 overflow-y-auto py-1">
          {tables.map((t) => (
            <li key={t.id}>
              <button
                type="button"
                aria-current={t.id === table?.id ? "true" : undefined}
                className={`flex w-full flex-col px-3 py-1 text-left hover:bg-base-200 ${t.id === table?.id ? "bg-base-200 font-semibold" : ""}`}
                onClick={() => go(t.id)}
              >
                <span className="truncate">{t.spec.name}</span>
                {t.sheets.length > 0 && (
                  <span className="figures text-xs font-normal opacity-85">on {t.sheets.join(", ")}</span>
                )}
              </button>
            </li>
          ))}
        </ul>
        <NewTable project={project.id} onMade={go} />
      </nav>
      {table ? (
        <Opened key={table.id} project={project} table={table} onGone={() => go(null)} />
      ) : (
        <main className="col-span-2 p-6" aria-label="Table">
          {isSuccess && <p>No tables yet: choose at the left what one shall list.</p>}
        </main>
      )}
    </div>
  );
}

function Opened({ project, table, onGone }: { project: Project; table: Table; onGone: () => void }) {
  const { data: content, error } = useTableContent(table);
  const [query] = useSearchParams();
  const shown = query.get("row");
  const [picked, setPicked] = useState<string | null>(shown);
  return (
    <>
      <main className="flex min-h-0 flex-col" aria-label="Table">
        <header className="flex h-8 shrink-0 items-center gap-2 border-b border-base-300 bg-base-200 px-3">
          <h2 className="truncate font-semibold">{table.spec.name}</h2>
          <span role="status" className="text-xs opacity-85">
            {content ? `${content.count} ${content.count === 1 ? "row" : "rows"}` : "Reading …"}
          </span>
          <span className="flex-1" />
          <TableFiles table={table} content={content} />
        </header>
        {error && (
          <p role="alert" className="alert alert-error m-3">
            {error.message}
          </p>
        )}
        {content?.notes.map((note) => (
          <p key={note} className="border-b border-base-300 px-3 py-1 text-xs text-warning-content">
            {note}
          </p>
        ))}
        {content && (
          <TableGrid
            project={project}
            table={table}
            content={content}
            shown={shown}
            picked={picked}
            onPick={setPicked}
          />
        )}
      </main>
      <aside aria-label="Table particulars" className="flex min-h-0 flex-col border-l border-base-300">
        <h2 className="flex h-8 shrink-0 items-center border-b border-base-300 px-3 font-semibold">
          {kindWords(table.spec)}
        </h2>
        <div className="min-h-0 flex-1 overflow-y-auto">
          {picked && <PickedRow project={project} target={picked} />}
          {content && <TableColumns table={table} content={content} />}
          <TableRules table={table} />
          <div className="flex flex-wrap gap-1 p-3">
            <TextField
              labelWidth="w-20"
              most={300}
              label="Name"
              value={table.spec.name}
              onEnter={(name) => editTable(table, () => ({ name }))}
            />
            <button
              type="button"
              className="btn btn-xs"
              onClick={async () => {
                if (await deleteTable(table)) onGone();
              }}
            >
              Delete the table
            </button>
          </div>
        </div>
      </aside>
    </>
  );
}

function NewTable({ project, onMade }: { project: number; onMade: (id: number) => void }) {
  const { data: kinds = [] } = useTableKinds(project);
  const [at, setAt] = useState(0);
  const [name, setName] = useState("");
  const kind = kinds[at];
  const usual = kind ? kindWords(kind) : "";
  const make = async () => {
    if (!kind) return;
    const made = await addTable(project, name.trim() || usual, kind);
    if (!made) return;
    setName("");
    onMade(made.id);
  };
  return (
    <form
      className="flex flex-col gap-1 border-t border-base-300 p-2"
      onSubmit={(event) => {
        event.preventDefault();
        make();
      }}
    >
      <select
        className="select select-xs"
        aria-label="What a new table lists"
        value={at}
        onChange={(event) => setAt(Number(event.target.value))}
      >
        {kinds.map((k, n) => (
          <option
            key={`${k.kind} ${k.of}`}
            value={n}
            disabled={k.count === 0 && k.kind !== "sheets" && k.kind !== "drawings"}
          >
            {kindWords(k)}
            {k.count > 0 ? ` (${k.count})` : ""}
          </option>
        ))}
      </select>
      <div className="flex gap-1">
        <input
          className="input input-xs min-w-0 flex-1"
          aria-label="Name of the new table"
          placeholder={usual}
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <button type="submit" className="btn btn-xs">
          New table
        </button>
      </div>
    </form>
  );
}
