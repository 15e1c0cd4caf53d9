import { Download } from "lucide-react";
import { useState } from "react";
import type { Drawing, Project, Settings, Sheet } from "../../api/client";
import { useSheetActs } from "../../api/sheet-acts";
import { findable } from "../../fields/findable";
import { scaleText } from "../../fields/scale";
import { FoldersPart } from "../panels/FoldersPart";
import { TemplatesPart } from "../panels/TemplatesPart";
import { Renumber } from "./Renumber";

type Props = {
  project: Project;
  settings: Settings;
  sheets: Sheet[];
  drawings: Drawing[];
  onOpen: (sheet: Sheet) => void;
};
type Row = { sheet: Sheet; cells: string[] };
const COLUMNS = [
  "Number",
  "Title",
  "Folder",
  "Size",
  "Scale",
  "Issue",
  "Drawn",
  "Checked",
  "Drawings",
] as const;
const KEPT = "register-columns";

/** The register as a table: columns that are shown, a filter for each, sheets chosen to be renumbered. */
export function RegisterTable({ project, settings, sheets, drawings, onOpen }: Props) {
  const { edit } = useSheetActs(project.id);
  const [filters, setFilters] = useState<Record<string, string>>({});
  const [chosen, setChosen] = useState<number[]>([]);
  const [hidden, setHidden] = useState<string[]>(() => JSON.parse(localStorage.getItem(KEPT) ?? "[]"));
  const hide = (names: string[]) => {
    localStorage.setItem(KEPT, JSON.stringify(names));
    setHidden(names);
  };
  const columns = COLUMNS.filter((c) => !hidden.includes(c));
  const rows = sheets
    .map((sheet) => ({ sheet, cells: cellsOf(project, sheet, drawings) }))
    .filter(({ cells }) =>
      COLUMNS.every((c, k) => findable(cells[k] ?? "").includes(findable(filters[c] ?? ""))),
    );
  const here = rows.map((r) => r.sheet.id);
  const wanted = here.filter((id) => chosen.includes(id));
  const turn = (id: number) =>
    setChosen(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id]);
  return (
    <section aria-label="Register as a table" className="flex min-h-0 flex-1 flex-col overflow-y-auto">
      <header className="flex h-8 shrink-0 items-center gap-2 border-b border-base-300 bg-base-200 px-3">
        <h2 className="font-semibold">Register</h2>
        <span className="text-xs opacity-85">
          {rows.length} of {sheets.length} sheets
        </span>
        <span className="flex-1" />
        <details className="relative">
          <summary className="btn btn-xs">Columns</summary>
          <div className="absolute right-0 z-20 flex w-36 flex-col gap-1 rounded border border-base-300 bg-base-100 p-2 shadow">
            {COLUMNS.map((c) => (
              <label key={c} className="flex items-center gap-2">
                <input
                  type="checkbox"
                  className="checkbox checkbox-xs"
                  checked={!hidden.includes(c)}
                  onChange={() => hide(hidden.includes(c) ? hidden.filter((h) => h !== c) : [...hidden, c])}
                />
                {c}
              </label>
            ))}
          </div>
        </details>
        <a className="btn btn-xs" href={`/api/projects/${project.id}/register.csv`} download>
          <Download size={12} /> CSV
        </a>
      </header>
      <table className="table table-xs">
        <thead className="text-base-content">
          <tr>
            <th>
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                aria-label="Choose all shown"
                checked={here.length > 0 && wanted.length === here.length}
                onChange={() => setChosen(wanted.length === here.length ? [] : here)}
              />
            </th>
            {columns.map((c) => (
              <th key={c}>
                <span className="block">{c}</span>
                <input
                  className="input input-xs w-full min-w-14 font-normal"
                  aria-label={`Only ${c}`}
                  placeholder="only"
                  value={filters[c] ?? ""}
                  onChange={(event) => setFilters({ ...filters, [c]: event.target.value })}
                />
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ sheet, cells }: Row) => (
            <tr key={sheet.id} className="hover:bg-base-200">
              <td>
                <input
                  type="checkbox"
                  className="checkbox checkbox-xs"
                  aria-label={`Choose ${sheet.number}`}
                  checked={chosen.includes(sheet.id)}
                  onChange={() => turn(sheet.id)}
                />
              </td>
              {COLUMNS.map((c, k) =>
                hidden.includes(c) ? null : c === "Number" ? (
                  <td key={c}>
                    <button type="button" className="link link-hover figures" onClick={() => onOpen(sheet)}>
                      {sheet.number}
                    </button>
                  </td>
                ) : c === "Title" ? (
                  <td key={c}>
                    <input
                      key={sheet.title}
                      className="input input-xs w-full min-w-40 border-transparent bg-transparent"
                      aria-label={`Title of ${sheet.number}`}
                      defaultValue={sheet.title}
                      onBlur={(event) => {
                        const title = event.target.value.trim();
                        if (title && title !== sheet.title) edit.mutate({ sheet, change: { title } });
                      }}
                      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
                    />
                  </td>
                ) : (
                  <td key={c} className="figures whitespace-nowrap">
                    {cells[k]}
                  </td>
                ),
              )}
            </tr>
          ))}
        </tbody>
      </table>
      <div className="grid max-w-4xl gap-4 p-3 md:grid-cols-2">
        <Renumber project={project} sheets={wanted.length > 0 ? wanted : here} named={wanted.length > 0} />
        <FoldersPart project={project} sheets={sheets} />
        <TemplatesPart project={project} settings={settings} />
      </div>
    </section>
  );
}

function cellsOf(project: Project, sheet: Sheet, drawings: Drawing[]): string[] {
  const scales = sheet.placements
    .map((p) => drawings.find((d) => d.id === p.drawing_id)?.style.scale)
    .filter((s): s is number => s !== undefined);
  return [
    sheet.number,
    sheet.title,
    project.sheet_register.folders.find((f) => f.key === sheet.folder)?.name ?? "",
    sheet.size,
    [...new Set(scales)]
      .sort((a, b) => a - b)
      .map(scaleText)
      .join(", "),
    sheet.issued || sheet.fields.revision || "",
    sheet.fields.drawn ?? "",
    sheet.fields.checked ?? "",
    String(sheet.placements.length),
  ];
}
