import { Download } from "lucide-react";
import { useState } from "react";
import type { Project, PublicationNew, Sheet } from "../../api/client";
import { publish } from "../../api/publications";
import { useOutputs } from "../../api/queries";
import { Check, Choice } from "../../fields/Choice";
import { NumberField } from "../../fields/NumberField";
import { AS_THEY_ARE, type Plot, PlotFields } from "./PlotFields";

type Which = "this" | "folder" | "all";

/** Files of the sheet that is open, of its folder, or of all. */
export function OutputMenu({ project, sheet, sheets }: { project: Project; sheet: Sheet; sheets: Sheet[] }) {
  const [form, setForm] = useState<PublicationNew["form"]>("pdf");
  const outputs = useOutputs("sheets");
  const wanted = outputs.find((one) => one.form === form);
  const forms = outputs.map(
    ({ form, name, bound }) => [form as PublicationNew["form"], bound ? `${name}, linked` : name] as const,
  );
  const [which, setWhich] = useState<Which>("all");
  const [dpi, setDpi] = useState(150);
  const [plot, setPlot] = useState<Plot | null>(null);
  const printed = wanted?.bound ? plot : null;
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
        <Choice label="As" value={form} options={forms} onChange={setForm} />
        {wanted?.dots && (
          <NumberField label="Dots an inch" value={dpi} least={30} most={1200} onChange={setDpi} />
        )}
        {wanted?.bound && (
          <Check
            label="For a printer"
            checked={plot !== null}
            onChange={(on) => setPlot(on ? AS_THEY_ARE : null)}
          />
        )}
        {printed && <PlotFields plot={printed} onChange={setPlot} />}
        <p className="text-xs opacity-85">
          {wanted?.bound
            ? "One file: layers, bookmarks by the register, every marker a link to its drawing."
            : "A file for each sheet, in one archive."}
        </p>
        <button
          type="button"
          className="btn btn-xs btn-primary"
          onClick={() => publish(project.id, { sheets: chosen.map((s) => s.id), form, dpi, plot: printed })}
        >
          Make {wanted?.bound || chosen.length === 1 ? "the file" : `${chosen.length} files`}
        </button>
        <div className="flex gap-1 border-t border-base-300 pt-2">
          {outputs.map(({ form, name }) => (
            <a
              key={form}
              className="btn btn-xs flex-1"
              href={`/api/sheets/${sheet.id}/export.${form}`}
              download
            >
              {name}
            </a>
          ))}
        </div>
        <p className="text-xs opacity-85">These: {sheet.number} alone, at once.</p>
      </div>
    </details>
  );
}
