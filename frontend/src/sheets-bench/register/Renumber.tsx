import { useState } from "react";
import type { Project, Renumbering } from "../../api/client";
import { report } from "../../api/queries";
import { renumber } from "../../api/sheet-acts";
import { NumberField } from "../../fields/NumberField";

/** Sheets renumbered by the pattern of the project, in the order of the register: shown first, then done in one act. */
export function Renumber({ project, sheets, named }: { project: Project; sheets: number[]; named: boolean }) {
  const [start, setStart] = useState(1);
  const [shown, setShown] = useState<Renumbering | null>(null);
  const ask = async (apply: boolean) => {
    try {
      const found = await renumber(project.id, sheets, start, apply);
      setShown(apply ? null : found);
    } catch (error) {
      setShown(null);
      report(error);
    }
  };
  const changed = shown?.sheets.filter((s) => s.before !== s.after) ?? [];
  return (
    <section aria-label="Renumber" className="flex flex-col gap-2 rounded border border-base-300 p-3">
      <h3 className="font-semibold">Renumber</h3>
      <p className="text-xs opacity-85">
        {named ? `The ${sheets.length} chosen sheets` : "All sheets that are shown"}, each in its folder, by{" "}
        <b className="figures">{project.sheet_register.pattern}</b>.
      </p>
      <NumberField
        label="Count from"
        value={start}
        least={0}
        most={100000}
        onChange={(value) => {
          setStart(Math.round(value));
          setShown(null);
        }}
      />
      <button
        type="button"
        className="btn btn-xs self-start"
        disabled={sheets.length === 0}
        onClick={() => ask(false)}
      >
        Show what follows
      </button>
      {shown && (
        <>
          {changed.length === 0 && <p role="status">All have these numbers already.</p>}
          <ul className="flex flex-col gap-0.5 text-xs">
            {changed.map((s) => (
              <li key={s.sheet}>
                <span className="figures">
                  {s.before} → <b>{s.after}</b>
                </span>{" "}
                {s.title}: {s.drawings} drawings, markers on {s.markers} others follow
              </li>
            ))}
          </ul>
          {changed.length > 0 && (
            <button type="button" className="btn btn-xs btn-primary self-start" onClick={() => ask(true)}>
              Renumber {changed.length} sheets
            </button>
          )}
        </>
      )}
    </section>
  );
}
