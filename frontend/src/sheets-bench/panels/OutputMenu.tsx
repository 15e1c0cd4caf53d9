import { Download } from "lucide-react";
import { useState } from "react";
import type { Project, PublicationNew, Sheet } from "../../api/client";
import { publish } from "../../api/publications";
import { Choice } from "../../fields/Choice";
import { NumberField } from "../../fields/NumberField";

const FORMS = [
  ["pdf", "PDF, linked"],
  ["svg", "SVG"],
  ["dxf", "DXF"],
  ["png", "PNG"],
] as const;
type Which = "this" | "folder" | "all";

/** Files of the sheet that is open, of its folder, or of all. */
export function OutputMenu({ project, sheet, sheets }: { project: Project; sheet: Sheet; sheets: Sheet[] }) {
  const [form, setForm] = useState<PublicationNew["form"]>("pdf");
  const [which, setWhich] = useState<Which>("all");
  const [dpi, setDpi] = useState(150);
  const folder = project.sheet_register.folders.find((f) => f.key === sheet.folder)?.name ?? "";
  const chosen = {
    this: [sheet],
    folder: sheets.filter((s) => s.folder === sheet.folder),
    all: sheets,
  }[which];
  return (
    <details className="relative">
      <summary className="btn btn-xs">
        <Download size={12} /> Files
      </summary>
      <div className="absolute right-0 z-20 flex w-64 flex-col gap-2 rounded border border-base-300 bg-base-100 p-3 shadow-lg">
        <Choice
          label="Sheets"
          value={which}
          options={[
            ["all", `all ${sheets.length} of the register`],
            ["folder", `those in ${folder}`],
            ["this", `only ${sheet.number}`],
          ]}
          onChange={setWhich}
        />
        <Choice label="As" value={form} options={FORMS} onChange={setForm} />
        {form === "png" && (
          <NumberField label="Dots an inch" value={dpi} least={30} most={1200} onChange={setDpi} />
        )}
        <p className="text-xs opacity-85">
          {form === "pdf"
            ? "One file: layers, bookmarks by the register, every marker a link to its drawing."
            : "A file for each sheet, in one archive."}
        </p>
        <button
          type="button"
          className="btn btn-xs btn-primary"
          onClick={() => publish(project.id, { sheets: chosen.map((s) => s.id), form, dpi })}
        >
          Make {form === "pdf" || chosen.length === 1 ? "the file" : `${chosen.length} files`}
        </button>
        <div className="flex gap-1 border-t border-base-300 pt-2">
          {(["pdf", "svg", "dxf", "png"] as const).map((f) => (
            <a key={f} className="btn btn-xs flex-1" href={`/api/sheets/${sheet.id}/export.${f}`} download>
              {f.toUpperCase()}
            </a>
          ))}
        </div>
        <p className="text-xs opacity-85">These four: {sheet.number} alone, at once.</p>
      </div>
    </details>
  );
}
