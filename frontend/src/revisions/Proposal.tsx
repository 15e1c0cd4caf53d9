import { useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import type { ModelChanges, ModelImport } from "../api/client";
import { keys, queryClient, report } from "../api/queries";
import { dropImport, takeRevision } from "../api/revisions";
import { WhichPart } from "../parts/WhichPart";

const WHAT = ["added", "removed", "changed", "renamed"] as const;
const WORDS = {
  added: "added",
  removed: "removed",
  changed: "changed",
  renamed: "with a new id only",
} as const;

/** A newer file on its way: its progress, then what changed, and one act that takes it. */
export function Proposal({ project, row }: { project: number; row: ModelImport }) {
  const [busy, setBusy] = useState(false);
  const drop = async () => {
    try {
      await dropImport(row.id);
    } catch (error) {
      report(error);
    }
    queryClient.invalidateQueries({ queryKey: keys.imports });
  };
  const take = async (anyway: boolean) => {
    setBusy(true);
    try {
      const done = await takeRevision(project, row.id, anyway);
      toast.success(
        `Revision ${done.number} is in use: ${done.recut} drawings see a change, ${done.kept} are as they were.` +
          (done.near + done.lost > 0 ? ` ${done.near} anchors are near, ${done.lost} lost.` : ""),
      );
    } catch (error) {
      report(error);
      queryClient.invalidateQueries({ queryKey: keys.imports }); // it may have been told anew
    }
    setBusy(false);
  };
  const ended = row.state === "failed" || row.state === "cancelled";
  const changes = row.changes;
  return (
    <section
      aria-label={`Newer file ${row.file_name}`}
      className="flex flex-col gap-2 rounded border border-base-300 bg-base-100 p-2 text-xs"
    >
      <b>{row.file_name}</b>
      {ended && <p className="text-error">{row.message || "Cancelled."}</p>}
      {(row.state === "waiting" || row.state === "reading") && (
        <>
          <span>{row.message || "Waiting for a worker"}</span>
          <progress
            className="progress progress-primary w-full"
            value={row.progress}
            max={1}
            aria-label="Reading"
          />
        </>
      )}
      {row.state === "proposed" && row.part && <WhichPart project={project} row={row} part={row.part} />}
      {row.state === "proposed" && changes && <Changes changes={changes} />}
      {row.state === "proposed" && changes && <SeenIn project={project} seen={changes.seen_in ?? []} />}
      <div className="flex gap-1">
        {row.state === "proposed" && changes && (
          <button
            type="button"
            className={`btn btn-xs ${changes.another ? "btn-warning" : "btn-primary"}`}
            disabled={busy}
            onClick={() => take(changes.another)}
          >
            {changes.another
              ? "Take it anyway"
              : row.part && !row.part.key
                ? "Take this part"
                : "Take this revision"}
          </button>
        )}
        <button type="button" className="btn btn-xs" disabled={busy} onClick={drop}>
          {ended ? "Dismiss" : row.state === "proposed" ? "Leave it" : "Cancel"}
        </button>
      </div>
    </section>
  );
}

/** What a newer file changes, by kind and storey. */
function Changes({ changes }: { changes: ModelChanges }) {
  const { elements = [], rooms = [], lost_storeys = [], drawings = [] } = changes;
  if (elements.length === 0 && rooms.length === 0)
    return <p>It holds the same model; nothing would change.</p>;
  return (
    <div className="flex flex-col gap-1.5">
      {changes.another && (
        <p role="alert" className="text-warning">
          Hardly anything of this project's model is in this file: it may be another building.
        </p>
      )}
      {lost_storeys.length > 0 && (
        <p role="alert" className="text-warning">
          Storeys that are not there any more: {lost_storeys.join(", ")}
          {drawings.length > 0 && `. They are needed by ${drawings.join(", ")}.`}
        </p>
      )}
      <p>{changes.same} elements are as they were.</p>
      {WHAT.map((what) => {
        const those = elements.filter((e) => e.what === what);
        if (those.length === 0) return null;
        return (
          <details key={what}>
            <summary className="cursor-pointer">
              <b>
                {those.length} {WORDS[what]}
              </b>
              : {grouped(those)}
            </summary>
            <ul className="max-h-32 overflow-y-auto pl-3">
              {those.slice(0, 200).map((e) => (
                <li key={e.guid}>
                  {e.name || e.kind}{" "}
                  {e.how.length > 0 && <span className="opacity-75">({e.how.join(", ")})</span>}
                </li>
              ))}
            </ul>
          </details>
        );
      })}
      {rooms.length > 0 && (
        <p>
          Rooms:{" "}
          {rooms.map((r) => `${r.name} ${r.what === "changed" ? r.how.join(", ") : r.what}`).join("; ")}
        </p>
      )}
    </div>
  );
}

/** The drawings that see the change, each a way to it. */
function SeenIn({ project, seen }: { project: number; seen: NonNullable<ModelChanges["seen_in"]> }) {
  if (seen.length === 0) return <p>No drawing sees that.</p>;
  return (
    <details open={seen.length <= 8}>
      <summary className="cursor-pointer">
        Seen in {seen.length} {seen.length === 1 ? "drawing" : "drawings"}
      </summary>
      <ul className="max-h-32 overflow-y-auto pl-3" aria-label="Drawings that see it">
        {seen.map((one) => (
          <li key={one.drawing_id}>
            <Link className="link" to={`/projects/${project}?drawing=${one.drawing_id}`}>
              {one.title}
            </Link>
          </li>
        ))}
      </ul>
    </details>
  );
}

/** "3 walls on Lower, 1 window on Upper" */
function grouped(those: { kind: string; storey: string }[]): string {
  const counts = new Map<string, number>();
  for (const { kind, storey } of those) {
    const key = `${kind}${storey ? ` on ${storey}` : ""}`;
    counts.set(key, (counts.get(key) ?? 0) + 1);
  }
  return [...counts].map(([key, n]) => `${n} ${key}`).join(", ");
}
