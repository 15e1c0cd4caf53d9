import { useState } from "react";
import { useNavigate } from "react-router";
import { leaveFinding, takeOffer, useChecks, useTextChecks } from "../api/checks";
import type { Finding, Project, Sheet } from "../api/client";
import { useDrawings, useSheets } from "../api/queries";
import { useLook } from "../drawing/look";
import { SmallDrawing } from "../drawing/SmallDrawing";
import type { Frame } from "../drawing/screen-form";
import { WhenSeen } from "../drawing/WhenSeen";
import { CheckSwitches } from "./CheckSwitches";
import { SheetCutting } from "./SheetCutting";
import { Sweeps } from "./Sweeps";

const GROUPS: readonly (readonly [Finding["severity"], string])[] = [
  ["serious", "Serious"],
  ["doubtful", "Doubtful"],
  ["remark", "Remarks"],
];
const AROUND = 40; // mm of the sheet shown about a finding

/** The checks bench: what is wrong before anything leaves the house, with reason, place, and a way to leave it. */
export function ChecksBench({ project }: { project: Project }) {
  const { data: sheets = [] } = useSheets(project.id);
  const { data: found, error } = useChecks(project.id);
  const texts = useTextChecks(sheets);
  const [withLeft, setWithLeft] = useState(false);
  const all = [...(found ?? []), ...texts.found];
  const open = all.filter((f) => !f.left);
  const left = all.filter((f) => f.left);
  return (
    <main className="h-full overflow-y-auto" aria-label="Checks">
      <header className="flex h-9 items-center gap-3 border-b border-base-300 bg-base-200 px-4">
        <h2 className="font-semibold">Checks</h2>
        <span role="status" className="text-xs opacity-85">
          {found
            ? `${open.length} ${open.length === 1 ? "finding" : "findings"}; texts of ${texts.done} of ${sheets.length} sheets looked at`
            : "Looking …"}
        </span>
        <span className="flex-1" />
        <label className="flex items-center gap-2 text-xs">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={withLeft}
            onChange={() => setWithLeft(!withLeft)}
          />
          Show the {left.length} that are left
        </label>
      </header>
      <CheckSwitches project={project} />
      <Sweeps project={project} />
      {error && (
        <p role="alert" className="alert alert-error m-3">
          {error.message}
        </p>
      )}
      {found && all.length === 0 && <p className="p-6">Nothing to say: all of it can leave the house.</p>}
      {GROUPS.map(([severity, words]) => {
        const mine = (withLeft ? all : open).filter((f) => f.severity === severity);
        if (mine.length === 0) return null;
        return (
          <section key={severity} aria-label={words} className="px-4 py-3">
            <h3 className="pb-1 text-[11px] font-semibold tracking-wide uppercase opacity-85">
              {words}: {mine.length}
            </h3>
            <ul className="flex flex-col">
              {mine.map((f) => (
                <FindingRow key={f.key} project={project.id} finding={f} sheets={sheets} />
              ))}
            </ul>
          </section>
        );
      })}
    </main>
  );
}

function FindingRow({ project, finding, sheets }: { project: number; finding: Finding; sheets: Sheet[] }) {
  const { data: drawings = [] } = useDrawings(project);
  const [leaving, setLeaving] = useState(false);
  const [reason, setReason] = useState(finding.left);
  const look = useLook((s) => s.lookAt);
  const navigate = useNavigate();
  const sheet = sheets.find((s) => s.id === finding.sheet_id);
  const drawing = drawings.find((d) => d.id === finding.drawing_id);
  const go = () => {
    if (sheet) {
      if (finding.box) {
        const [l, b, r, t] = finding.box as Frame;
        look(`sheet ${sheet.id} ${sheet.size}`, [l - AROUND, b - AROUND, r + AROUND, t + AROUND]);
      }
      navigate(`/projects/${project}/sheets/${sheet.id}`);
    } else if (drawing) {
      if (finding.box) look(`drawing ${drawing.id}`, finding.box as Frame);
      navigate(`/projects/${project}?drawing=${drawing.id}`);
    }
  };
  return (
    <li className="flex items-center gap-3 border-b border-base-300 py-2">
      <span className="film flex h-16 w-24 shrink-0 items-center justify-center overflow-hidden border border-base-300">
        <WhenSeen>
          {sheet ? (
            <SheetCutting sheet={sheet} box={(finding.box as Frame | null) ?? null} />
          ) : (
            drawing && (
              <SmallDrawing
                project={project}
                spec={drawing}
                width={94}
                height={62}
                box={finding.box as Frame | null}
              />
            )
          )}
        </WhenSeen>
      </span>
      <div className="min-w-0 flex-1">
        <p className={finding.left ? "line-through opacity-70" : ""}>{finding.says}</p>
        <p className="text-xs opacity-85">
          {finding.left
            ? `Left${finding.left_by && ` by ${finding.left_by}`}: ${finding.left}`
            : finding.help}
        </p>
        {leaving && (
          <form
            className="flex gap-1 pt-1"
            onSubmit={(event) => {
              event.preventDefault();
              if (reason.trim()) leaveFinding(project, finding.key, reason).then(() => setLeaving(false));
            }}
          >
            <input
              className="input input-xs w-80"
              aria-label="Because"
              placeholder="because …"
              maxLength={300}
              // biome-ignore lint/a11y/noAutofocus: the field was asked for by a click
              autoFocus
              value={reason}
              onChange={(event) => setReason(event.target.value)}
            />
            <button type="submit" className="btn btn-xs" disabled={!reason.trim()}>
              Leave it
            </button>
          </form>
        )}
      </div>
      {!finding.left &&
        finding.offers?.map((offer) => (
          <button
            key={offer.says}
            type="button"
            className="btn btn-xs"
            onClick={() => takeOffer(project, offer)}
          >
            {offer.says}
          </button>
        ))}
      <button type="button" className="btn btn-xs" onClick={go}>
        Go there
      </button>
      {finding.left ? (
        <button type="button" className="btn btn-xs" onClick={() => leaveFinding(project, finding.key, "")}>
          Count it again
        </button>
      ) : (
        <button type="button" className="btn btn-xs" onClick={() => setLeaving(!leaving)}>
          Leave it, because …
        </button>
      )}
    </li>
  );
}
