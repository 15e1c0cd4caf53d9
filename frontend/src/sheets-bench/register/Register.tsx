import { Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Drawing, Project, Sheet } from "../../api/client";
import { useReorder, useSheetActs } from "../../api/sheet-acts";
import { findable } from "../../fields/findable";
import { Unplaced } from "./Unplaced";

type Props = {
  project: Project;
  sheets: Sheet[];
  drawings: Drawing[];
  sheet: Sheet | undefined;
  onOpen: (sheet: Sheet) => void;
  onTable: () => void;
};
const DRAGGED = "application/x-sheet";

/** All sheets by folder, in their order; dragged to another place or folder. */
export function Register({ project, sheets, drawings, sheet, onOpen, onTable }: Props) {
  const { add } = useSheetActs(project.id);
  const reorder = useReorder(project.id);
  const [sought, setSought] = useState("");
  const [over, setOver] = useState("");
  const word = findable(sought.trim());
  const shown = sheets.filter((s) => findable(`${s.number} ${s.title}`).includes(word));
  const drop = (folder: string, before: Sheet | null, dragged: number) => {
    setOver("");
    const mine = sheets.filter((s) => s.folder === folder && s.id !== dragged).map((s) => s.id);
    const at = before ? mine.indexOf(before.id) : mine.length;
    reorder.mutate({ folder, sheets: [...mine.slice(0, at), dragged, ...mine.slice(at)] });
  };
  const onto = (key: string, folder: string, before: Sheet | null) => ({
    onDragOver: (event: React.DragEvent) => {
      if (!event.dataTransfer.types.includes(DRAGGED)) return;
      event.preventDefault();
      setOver(key);
    },
    onDragLeave: () => setOver(""),
    onDrop: (event: React.DragEvent) => drop(folder, before, Number(event.dataTransfer.getData(DRAGGED))),
  });
  const make = (folder: string) =>
    add.mutate({ title: "Untitled sheet", folder }, { onSuccess: (made) => made && onOpen(made) });
  return (
    <nav aria-label="Register" className="flex w-60 shrink-0 flex-col border-r border-base-300 bg-base-200">
      <h2 className="flex h-8 items-center border-b border-base-300 px-2 font-semibold">
        <button
          type="button"
          className="flex-1 cursor-pointer text-left"
          onClick={onTable}
          title="The register as a table"
        >
          Register
        </button>
        <button type="button" className="btn btn-ghost btn-xs" onClick={() => make(sheet?.folder ?? "")}>
          <Plus size={13} /> New sheet
        </button>
      </h2>
      {sheets.length > 8 && (
        <input
          className="input input-xs m-2 w-auto shrink-0"
          aria-label="Find a sheet"
          placeholder="Find a sheet"
          value={sought}
          onChange={(event) => setSought(event.target.value)}
        />
      )}
      <div className="min-h-0 flex-1 overflow-y-auto py-1">
        {project.sheet_register.folders.map((f) => {
          const mine = shown.filter((s) => s.folder === f.key);
          if (mine.length === 0 && (word || sheets.length === 0)) return null;
          return (
            <section key={f.key} aria-label={f.name}>
              <h3
                className={`flex items-center px-2 pt-1.5 text-[11px] font-semibold tracking-wide uppercase opacity-85 ${over === f.key ? "bg-base-300" : ""}`}
                {...onto(f.key, f.key, null)}
              >
                <span className="flex-1">{f.name}</span>
                <button
                  type="button"
                  className="btn btn-ghost btn-xs btn-square"
                  aria-label={`New sheet in ${f.name}`}
                  onClick={() => make(f.key)}
                >
                  <Plus size={11} />
                </button>
              </h3>
              <ul>
                {mine.map((s) => (
                  <SheetRow
                    key={s.id}
                    sheet={s}
                    open={s.id === sheet?.id}
                    over={over === String(s.id)}
                    onOpen={() => onOpen(s)}
                    drop={onto(String(s.id), f.key, s)}
                  />
                ))}
              </ul>
            </section>
          );
        })}
      </div>
      <Unplaced drawings={drawings} sheet={sheet} project={project} />
    </nav>
  );
}

type RowProps = {
  sheet: Sheet;
  open: boolean;
  over: boolean;
  onOpen: () => void;
  drop: Pick<React.DOMAttributes<HTMLLIElement>, "onDragOver" | "onDragLeave" | "onDrop">;
};

function SheetRow({ sheet, open, over, onOpen, drop }: RowProps) {
  const { remove } = useSheetActs(sheet.project_id);
  return (
    <li
      className={`group flex items-center border-t-2 pr-1 ${over ? "border-primary" : "border-transparent"} ${open ? "bg-base-300 font-semibold" : "hover:bg-base-300/60"}`}
      {...drop}
    >
      <button
        type="button"
        className="flex min-w-0 flex-1 cursor-pointer gap-2 px-2 py-0.5 text-left"
        draggable
        onDragStart={(event) => event.dataTransfer.setData(DRAGGED, String(sheet.id))}
        onClick={onOpen}
      >
        <span className="figures shrink-0">{sheet.number}</span>
        <span className="truncate">{sheet.title}</span>
      </button>
      <button
        type="button"
        aria-label={`Delete sheet ${sheet.number}`}
        title="Delete the sheet; its drawings stay"
        className="btn btn-ghost btn-xs btn-square opacity-0 group-hover:opacity-70 focus:opacity-100"
        onClick={() => remove.mutate(sheet)}
      >
        <Trash2 size={12} />
      </button>
    </li>
  );
}
