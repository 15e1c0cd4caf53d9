import { Download, Plus, Trash2 } from "lucide-react";
import { useNavigate, useParams } from "react-router";
import type { Drawing, Project, Settings, Sheet } from "../api/client";
import { useDrawings, useSheets } from "../api/queries";
import { useSheetActs } from "../api/sheet-acts";
import { SheetCanvas } from "./SheetCanvas";
import { SheetParticulars } from "./SheetParticulars";

/** The sheets bench: the register, the sheet large, and its particulars. */
export function SheetsBench({ project, settings }: { project: Project; settings: Settings }) {
  const { data: sheets = [] } = useSheets(project.id);
  const { data: drawings = [] } = useDrawings(project.id);
  const { sheet: wanted } = useParams();
  const navigate = useNavigate();
  const { add, remove } = useSheetActs(project.id);
  const sheet = sheets.find((s) => s.id === Number(wanted)) ?? sheets[0];
  const open = (s: Sheet) => navigate(`/projects/${project.id}/sheets/${s.id}`);
  return (
    <div className="flex h-full min-h-0">
      <nav aria-label="Register" className="flex w-56 shrink-0 flex-col border-r border-base-300 bg-base-200">
        <h2 className="flex h-8 items-center border-b border-base-300 px-2 font-semibold">
          <span className="flex-1">Register</span>
          <button
            type="button"
            className="btn btn-ghost btn-xs"
            onClick={() => add.mutate({ title: "Untitled sheet" }, { onSuccess: (s) => s && open(s) })}
          >
            <Plus size={13} /> New sheet
          </button>
        </h2>
        <ul className="overflow-y-auto py-1">
          {sheets.map((s) => (
            <li
              key={s.id}
              className={`group flex items-center pr-1 ${s.id === sheet?.id ? "bg-base-300 font-semibold" : "hover:bg-base-300/60"}`}
            >
              <button
                type="button"
                className="flex min-w-0 flex-1 cursor-pointer gap-2 px-2 py-1 text-left"
                onClick={() => open(s)}
              >
                <span className="figures shrink-0">{s.number}</span>
                <span className="truncate">{s.title}</span>
              </button>
              <button
                type="button"
                aria-label={`Delete sheet ${s.number}`}
                title="Delete the sheet; its drawings stay"
                className="btn btn-ghost btn-xs btn-square opacity-0 group-hover:opacity-70 focus:opacity-100"
                onClick={() => remove.mutate(s)}
              >
                <Trash2 size={12} />
              </button>
            </li>
          ))}
        </ul>
        <Unplaced drawings={drawings} sheet={sheet} project={project.id} />
      </nav>
      <main className="flex min-w-0 flex-1 flex-col">
        {sheet ? (
          <>
            <header className="flex h-8 items-center gap-2 border-b border-base-300 bg-base-200 px-2">
              <h2 className="truncate font-semibold">
                <span className="figures">{sheet.number}</span> {sheet.title}
              </h2>
              <span className="text-xs opacity-85">{sheet.size}</span>
              <span className="flex-1" />
              {(["pdf", "svg", "dxf"] as const).map((form) => (
                <a key={form} className="btn btn-xs" href={`/api/sheets/${sheet.id}/export.${form}`} download>
                  <Download size={12} /> {form.toUpperCase()}
                </a>
              ))}
            </header>
            <SheetCanvas sheet={sheet} drawings={drawings} />
          </>
        ) : (
          <div className="film m-auto flex flex-col items-center gap-3 rounded border border-base-300 p-8 text-center text-[#22302b]">
            <p className="text-base font-semibold">No sheets yet</p>
            <p className="max-w-72 text-sm opacity-80">
              Make a sheet, then place drawings on it. Their markers then read drawing number over sheet
              number.
            </p>
            <button
              type="button"
              className="btn btn-primary btn-sm"
              onClick={() => add.mutate({ title: "Untitled sheet" })}
            >
              <Plus size={14} /> New sheet
            </button>
          </div>
        )}
      </main>
      <div className="w-60 shrink-0 border-l border-base-300 bg-base-200">
        {sheet && <SheetParticulars key={sheet.id} sheet={sheet} drawings={drawings} settings={settings} />}
      </div>
    </div>
  );
}

function Unplaced({
  drawings,
  sheet,
  project,
}: {
  drawings: Drawing[];
  sheet: Sheet | undefined;
  project: number;
}) {
  const { place } = useSheetActs(project);
  const left = drawings.filter((d) => !d.placement);
  if (!sheet || left.length === 0) return null;
  return (
    <section aria-label="Not placed yet" className="mt-auto border-t border-base-300">
      <h3 className="px-2 pt-2 pb-1 text-[11px] font-semibold tracking-wide uppercase opacity-85">
        Not placed yet
      </h3>
      <ul className="max-h-56 overflow-y-auto pb-2">
        {left.map((d) => (
          <li key={d.id} className="flex items-center gap-1 px-2 py-0.5">
            <button
              type="button"
              className="min-w-0 flex-1 cursor-grab truncate text-left"
              title={d.title}
              draggable
              onDragStart={(event) => event.dataTransfer.setData("application/x-drawing", String(d.id))}
            >
              {d.title}
            </button>
            <button
              type="button"
              className="btn btn-xs"
              aria-label={`Place ${d.title}`}
              disabled={place.isPending}
              onClick={() => place.mutate({ sheet: sheet.id, drawing: d.id })}
            >
              Place
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
