import { GitCompareArrows } from "lucide-react";
import { useRef, useState } from "react";
import { toast } from "sonner";
import { useUnsettled } from "../api/annotations";
import { report, useImports, useProject } from "../api/queries";
import { proposeAgain, sendModel, useRevisions } from "../api/revisions";
import { CorrectionsList } from "../corrections/CorrectionsList";
import { useDropped } from "../fields/use-dropped";
import { PartsList } from "../parts/PartsList";
import { useCommand } from "../shell/commands";
import { SidePanel } from "../shell/SidePanel";
import { Proposal } from "./Proposal";
import { UnsettledList } from "./UnsettledList";

/** The way to the revisions of a project's model, with how much is still to be settled. */
export function RevisionsButton({ project }: { project: number }) {
  const [open, setOpen] = useState(false);
  const { data: of } = useProject(project);
  // read when the panel is opened: it looks at every drawing
  const { data: unsettled = [] } = useUnsettled(project, open);
  useCommand({
    name: "Revisions of the model",
    group: "Project",
    keys: "shift+o",
    run: () => setOpen(!open),
  });
  const sending = useSending(project);
  const over = useDropped((files) => {
    setOpen(true);
    sending.send(files);
  });
  const newest = of?.revision ?? 1;
  const proposed = of?.proposed ?? 0;
  return (
    <>
      <button
        type="button"
        className="btn btn-ghost btn-xs"
        aria-expanded={open}
        title="Revisions of the model (Shift O)"
        onClick={() => setOpen(!open)}
      >
        <GitCompareArrows size={14} /> Revision {newest}
        {proposed > 0 && (
          <span className="badge badge-primary badge-xs" title="read, and not taken yet">
            {proposed} proposed
          </span>
        )}
        {unsettled.length > 0 && (
          <span className="badge badge-warning badge-xs" title="near or lost since the model changed">
            {unsettled.length}
          </span>
        )}
      </button>
      {open && <RevisionsPanel project={project} sending={sending} onClose={() => setOpen(false)} />}
      {over && (
        <div className="pointer-events-none fixed inset-2 z-50 grid place-items-center rounded border-2 border-dashed border-primary bg-base-200/80">
          <p className="rounded bg-base-100 px-4 py-2">
            Drop newer files of this model, or further parts of it. Nothing changes until you take them.
          </p>
        </div>
      )}
    </>
  );
}

type Sending = ReturnType<typeof useSending>;

/** Files on their way to the server as newer ones of a model, or as further parts of it. */
function useSending(project: number) {
  const [share, setShare] = useState<number | null>(null);
  const send = async (files: File[]) => {
    for (const file of files) {
      setShare(0);
      try {
        await sendModel(file, { into: String(project) }, setShare);
        toast(`${file.name} is being read; nothing changes until you take it.`);
      } catch (error) {
        report(error);
      }
    }
    setShare(null);
  };
  return { share, send };
}

function RevisionsPanel(props: { project: number; sending: Sending; onClose: () => void }) {
  const { project, onClose } = props;
  const { data: of } = useProject(project);
  const { data: revisions = [] } = useRevisions(project, true);
  const { data: imports = [] } = useImports();
  const mine = imports.filter((i) => i.into_id === project);
  return (
    <SidePanel label="Revisions of the model" title="Revisions of the model" wide="w-96" onClose={onClose}>
      <Upload {...props.sending} />
      {mine.map((row) => (
        <Proposal key={row.id} project={project} row={row} />
      ))}
      <PartsList project={project} revision={revisions[0]?.number ?? 1} />
      {of && <CorrectionsList project={of} />}
      <ul aria-label="Revisions" className="flex flex-col gap-1">
        {revisions.map((r, k) => (
          <li key={r.number} className="rounded border border-base-300 bg-base-100 px-2 py-1 text-xs">
            <span className="flex items-center gap-1">
              <b>Revision {r.number}</b> {k === 0 && "(in use)"}
              <span className="min-w-0 flex-1 truncate opacity-75">{r.file_name}</span>
              {k > 0 && (
                <button
                  type="button"
                  className="btn btn-ghost btn-xs"
                  disabled={mine.length > 0}
                  title={`See what would change with revision ${r.number}, then take it again`}
                  onClick={() => proposeAgain(project, r.number)}
                >
                  Go back to it …
                </button>
              )}
            </span>
            <span className="block opacity-85">
              {r.elements} elements
              {r.number > 1 && `: ${r.added} added, ${r.changed} changed, ${r.removed} removed`}
            </span>
          </li>
        ))}
      </ul>
      <UnsettledList project={project} onGo={onClose} />
    </SidePanel>
  );
}

function Upload({ share, send }: Sending) {
  const input = useRef<HTMLInputElement>(null);
  const upload = async (files: File[]) => {
    await send(files);
    if (input.current) input.current.value = "";
  };
  return (
    <fieldset
      aria-label="Files of the model"
      className="rounded border border-dashed border-base-content/40 p-2"
    >
      <input
        ref={input}
        type="file"
        multiple
        className="hidden"
        aria-label="Newer file of the model"
        onChange={(event) => upload([...(event.target.files ?? [])])}
      />
      <button type="button" className="btn btn-primary btn-sm" onClick={() => input.current?.click()}>
        Read newer files, or further parts
      </button>
      {share !== null && (
        <progress
          className="progress progress-primary mt-1 w-full"
          value={share}
          max={1}
          aria-label="Upload"
        />
      )}
      <p className="mt-1 text-xs opacity-85">
        Drop them anywhere in the window, or choose them. You see which part each is and what it changes
        before anything does; drawings, notes and touch-ups then follow.
      </p>
    </fieldset>
  );
}
