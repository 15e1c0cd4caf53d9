import { useMutation, useQueryClient } from "@tanstack/react-query";
import { FileDown, FileUp, Trash2, X } from "lucide-react";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import { client, type ModelImport, unwrap } from "../api/client";
import { keys, report, useImports, useProjects, useSettings } from "../api/queries";
import { sendModel } from "../api/revisions";
import { useDropped } from "../fields/use-dropped";
import { SeveralFiles } from "../parts/SeveralFiles";
import { useRead } from "./use-read";

/** All projects, and the way in for another model. */
export function ProjectsPage() {
  const { data: projects } = useProjects();
  const { data: imports = [] } = useImports();
  const cache = useQueryClient();
  const remove = useMutation({
    mutationFn: (id: number) => unwrap(client.DELETE("/api/projects/{id}", { params: { path: { id } } })),
    onError: report,
    onSettled: () => cache.invalidateQueries({ queryKey: keys.projects }),
  });
  const [asked, setAsked] = useState<number | null>(null);
  return (
    <main className="mx-auto flex h-full w-full max-w-4xl flex-col gap-5 overflow-y-auto p-8">
      <h1 className="text-xl font-semibold">Projects</h1>
      <UploadArea />
      {imports.map((row) => (
        <ImportRow key={row.id} row={row} />
      ))}
      <ul className="flex flex-col gap-2" aria-label="Projects">
        {projects?.map((p) => (
          <li
            key={p.id}
            className="flex items-center gap-4 rounded border border-base-300 bg-base-200 px-4 py-3"
          >
            <Link to={`/projects/${p.id}`} className="min-w-0 flex-1">
              <span className="block truncate text-base font-semibold">{p.name}</span>
              <span className="block truncate text-xs opacity-85">
                {p.facts.parts.length > 1 ? `${p.facts.parts.length} files` : p.file_name} ·{" "}
                {p.facts.model_schema} · {p.facts.elements} elements ·{" "}
                {p.facts.triangles.toLocaleString("en")} triangles · {p.facts.storeys.length} storeys · file
                in {p.facts.unit}
              </span>
              {(p.facts.problems.length > 0 || p.facts.leaking.length > 0) && (
                <span className="block text-xs text-warning">
                  {[...p.facts.problems, ...p.facts.leaking.map((name) => `“${name}” is not closed`)]
                    .slice(0, 4)
                    .join(" · ")}
                </span>
              )}
            </Link>
            {asked === p.id ? (
              <span className="flex gap-1">
                <button type="button" className="btn btn-error btn-xs" onClick={() => remove.mutate(p.id)}>
                  Delete with all its drawings
                </button>
                <button type="button" className="btn btn-xs" onClick={() => setAsked(null)}>
                  Keep
                </button>
              </span>
            ) : (
              <span className="flex gap-1">
                <a
                  className="btn btn-ghost btn-xs"
                  href={`/api/projects/${p.id}/files`}
                  download
                  aria-label={`Save project ${p.name} as files`}
                  title="Its project file with models and pictures, in one archive: to keep, to send, or for the command line"
                >
                  <FileDown size={14} /> As files
                </a>
                <button
                  type="button"
                  className="btn btn-ghost btn-xs btn-square"
                  aria-label={`Delete project ${p.name}`}
                  onClick={() => setAsked(p.id)}
                >
                  <Trash2 size={14} />
                </button>
              </span>
            )}
          </li>
        ))}
      </ul>
    </main>
  );
}

function UploadArea() {
  const input = useRef<HTMLInputElement>(null);
  const [share, setShare] = useState<number | null>(null);
  const [problem, setProblem] = useState("");
  const { data: settings } = useSettings();
  const cache = useQueryClient();
  const [silent, setSilent] = useState<File | null>(null);
  const [several, setSeveral] = useState<File[] | null>(null);

  const { data: imports } = useImports();
  const read = useRead(imports);
  const ended = async (sent: ModelImport[]) => {
    setShare(null);
    if (input.current) input.current.value = "";
    await cache.invalidateQueries({ queryKey: keys.imports });
    if (sent.length > 0) read(sent);
  };

  const upload = async (file: File | undefined, said: { unit: string; up: string } | null = null) => {
    if (!file) return;
    if (!said && SILENT.test(file.name)) {
      setSilent(file);
      return;
    }
    setSilent(null);
    const limit = settings?.upload_limit_mb ?? Number.POSITIVE_INFINITY;
    setProblem("");
    if (file.size > limit * 1024 * 1024) {
      setProblem(
        `${file.name} is larger than ${limit} MB, the limit of this installation. Nothing was sent.`,
      );
      return;
    }
    setShare(0);
    const sent: ModelImport[] = [];
    try {
      sent.push(await sendModel(file, said ?? {}, setShare));
      toast(`${file.name} is being read`);
    } catch (error) {
      setProblem(error instanceof Error ? error.message : "The upload failed.");
    }
    await ended(sent);
  };

  const take = (files: File[]) => (files.length > 1 ? setSeveral(files) : upload(files[0]));

  const over = useDropped(take);

  /** Files of one building: the first makes the project, the others become parts of its model. */
  const together = async ([first, ...others]: File[]) => {
    setSeveral(null);
    if (!first) return;
    setProblem("");
    const sent: ModelImport[] = [];
    try {
      setShare(0);
      const leading = await sendModel(first, {}, setShare);
      sent.push(leading);
      for (const file of others) sent.push(await sendModel(file, { beside: String(leading.id) }, setShare));
      toast(`${first.name} and ${others.length} more are being read`);
    } catch (error) {
      setProblem(error instanceof Error ? error.message : "The upload failed.");
    }
    await ended(sent);
  };

  return (
    <section
      aria-label="New project"
      className={`flex flex-col items-center gap-2 rounded border border-dashed p-5 text-center ${over ? "border-primary bg-base-200" : "border-base-content/40"}`}
    >
      <p>
        Drop a model on this page to begin a project (IFC, glTF, OBJ, STL or PLY; several files of one
        building at once), or a project as files (ZIP), or
      </p>
      <button
        type="button"
        className="btn btn-primary btn-sm"
        disabled={share !== null}
        onClick={() => input.current?.click()}
      >
        <FileUp size={15} /> Choose a file
      </button>
      <input
        ref={input}
        type="file"
        accept={settings?.file_kinds.join(",")}
        hidden
        aria-label="Model file"
        multiple
        onChange={(event) => take([...(event.target.files ?? [])])}
      />
      {several && (
        <SeveralFiles
          files={several}
          onTake={(files) => together(files)}
          onEach={(files) => {
            setSeveral(null);
            for (const file of files) upload(file);
          }}
          onLeave={() => setSeveral(null)}
        />
      )}
      {silent && settings && (
        <SilentFile
          file={silent}
          units={settings.units}
          onSay={(said) => upload(silent, said)}
          onLeave={() => setSilent(null)}
        />
      )}
      {share !== null && (
        <progress className="progress progress-primary w-64" value={share} max={1} aria-label="Upload" />
      )}
      {problem && (
        <p role="alert" className="text-error">
          {problem}
        </p>
      )}
    </section>
  );
}

const SILENT = /\.(obj|stl|ply)$/i;

/** Asks what a file does not say: its unit, and which axis points up. */
function SilentFile(props: {
  file: File;
  units: string[];
  onSay: (said: { unit: string; up: string }) => void;
  onLeave: () => void;
}) {
  const [unit, setUnit] = useState("mm");
  const [up, setUp] = useState("z");
  return (
    <fieldset
      className="flex flex-wrap items-end justify-center gap-2 rounded bg-base-200 p-3"
      aria-label="Unit"
    >
      <legend className="sr-only">What the file does not say</legend>
      <span className="w-full">
        <b>{props.file.name}</b> does not say its unit, nor what is up.
      </span>
      <label>
        Unit{" "}
        <select
          className="select select-xs w-20"
          aria-label="Unit of the file"
          value={unit}
          onChange={(event) => setUnit(event.target.value)}
        >
          {props.units.map((u) => (
            <option key={u}>{u}</option>
          ))}
        </select>
      </label>
      <label>
        Up{" "}
        <select
          className="select select-xs w-16"
          aria-label="Axis that points up"
          value={up}
          onChange={(event) => setUp(event.target.value)}
        >
          <option>z</option>
          <option>y</option>
        </select>
      </label>
      <button type="button" className="btn btn-primary btn-xs" onClick={() => props.onSay({ unit, up })}>
        Read it
      </button>
      <button type="button" className="btn btn-ghost btn-xs" onClick={props.onLeave}>
        Leave it
      </button>
    </fieldset>
  );
}

function ImportRow({ row }: { row: ModelImport }) {
  const cache = useQueryClient();
  const ended = row.state === "failed" || row.state === "cancelled";
  const drop = useMutation({
    mutationFn: () => unwrap(client.DELETE("/api/imports/{id}", { params: { path: { id: row.id } } })),
    onError: report,
    onSettled: () => cache.invalidateQueries({ queryKey: keys.imports }),
  });
  const retry = useMutation({
    mutationFn: () => unwrap(client.POST("/api/imports/{id}/retry", { params: { path: { id: row.id } } })),
    onError: report,
    onSettled: () => cache.invalidateQueries({ queryKey: keys.imports }),
  });
  const words = {
    waiting: row.beside_id ? "Waits for the file that it is read beside" : "Waiting for a worker",
    reading: row.message || "Reading",
    failed: "",
    cancelled: "",
    ready: "",
    proposed: "Read; its project shows what changed",
  };
  return (
    <div
      className={`flex items-center gap-3 rounded border px-4 py-2 ${ended ? "border-error" : "border-base-300 bg-base-200"}`}
      role={ended ? "alert" : "status"}
    >
      <span className="min-w-0 flex-1">
        <b className="truncate">{row.file_name}</b>{" "}
        <span className={ended ? "text-error" : "opacity-80"}>
          {ended ? row.message || "Cancelled." : words[row.state]}
        </span>
        {!ended && (
          <progress
            className="progress progress-primary mt-1 w-full"
            value={row.progress}
            max={1}
            aria-label="Import"
          />
        )}
      </span>
      {row.can_retry && (
        <button type="button" className="btn btn-xs" onClick={() => retry.mutate()}>
          Try again
        </button>
      )}
      <button type="button" className="btn btn-ghost btn-xs" onClick={() => drop.mutate()}>
        <X size={13} /> {ended ? "Dismiss" : "Cancel"}
      </button>
    </div>
  );
}
