import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useNavigate } from "react-router";
import type { Drawing, KeptSet, Project, Proposed, Settings } from "../../api/client";
import { client, unwrap } from "../../api/client";
import { keys, queryClient, report } from "../../api/queries";
import { sayWhatIsLeft, useDocument } from "../../api/sheet-acts";
import { rulesNow } from "../../desk/rules";
import { SmallDrawing } from "../../drawing/SmallDrawing";
import { NameForm } from "../../fields/NameForm";
import { scaleText } from "../../fields/scale";

type Props = {
  project: Project;
  settings: Settings;
  onMade: (drawing: Drawing) => void;
  onClose: () => void;
};

/** What a project begins with: proposed with reasons and pictures, made in one act. */
export function StarterSet({ project, settings, onMade, onClose }: Props) {
  const path = { params: { path: { id: project.id } } };
  const [kept, setKept] = useState<number | null>(null);
  const { data, error } = useQuery({
    queryKey: ["starter set", project.id, kept],
    staleTime: 0,
    queryFn: () =>
      unwrap<Proposed[]>(
        client.GET("/api/projects/{id}/starter-set", {
          params: { ...path.params, query: kept === null ? {} : { kept } },
        }),
      ),
  });
  const [template, setTemplate] = useState("");
  const rules = rulesNow(project.id);
  const [turned, setTurned] = useState<ReadonlyMap<string, boolean>>(new Map());
  const document = useDocument(project.id);
  const navigate = useNavigate();
  // what is there already is not made again, but comes on a sheet if it stands on none
  const usual = (p: Proposed) => p.there === null || (template !== "" && !p.placed);
  const chosen = (data ?? []).filter((p) => p.fits && (turned.get(p.key) ?? usual(p)));
  const turn = (p: Proposed) => setTurned(new Map(turned).set(p.key, !chosen.includes(p)));
  const onSheets = () => {
    const there = chosen.flatMap((p) => p.there ?? []);
    const fresh = chosen.filter((p) => p.there === null).map((p) => p.key);
    const starter = fresh.length > 0 ? { kept, keys: fresh, rules } : null;
    document.mutate(
      { template, drawings: there, starter },
      {
        onSuccess: (done) => {
          sayWhatIsLeft(done);
          onClose();
          if (done.sheets[0]) navigate(`/projects/${project.id}/sheets/${done.sheets[0].id}`);
        },
      },
    );
  };
  const make = async () => {
    if (template !== "") {
      onSheets();
      return;
    }
    try {
      const body = { kept, keys: chosen.map((p) => p.key), rules };
      const made = await unwrap<Drawing[]>(client.POST("/api/projects/{id}/starter-set", { ...path, body }));
      await queryClient.invalidateQueries({ queryKey: keys.drawings(project.id), exact: true });
      onClose();
      if (made[0]) onMade(made[0]);
    } catch (problem) {
      report(problem);
    }
  };
  useHotkeys("escape", onClose);
  return (
    <div
      role="dialog"
      aria-label="Starter set"
      className="fixed inset-x-0 top-14 z-40 mx-auto flex max-h-[85vh] w-[50rem] max-w-[94vw] flex-col rounded border border-base-300 bg-base-100 shadow-xl"
    >
      <header className="border-b border-base-300 px-4 py-2">
        <h2 className="text-base font-semibold">Starter set</h2>
        <p className="text-sm opacity-85">
          {kept === null
            ? "Fitted to this model: its storeys, its sides, and the sections that explain most."
            : "Drawings of another project, fitted to this model: each says how."}
        </p>
        <KeptSets project={project.id} kept={kept} onKept={setKept} />
      </header>
      {error && (
        <p role="alert" className="p-4 text-error">
          {error.message}
        </p>
      )}
      <ul className="grid grid-cols-2 gap-2 overflow-y-auto p-3">
        {data?.map((p) => (
          <li key={p.key}>
            <label className="flex cursor-pointer gap-2 rounded border border-base-300 p-2 hover:bg-base-200">
              <input
                type="checkbox"
                className="checkbox checkbox-xs mt-0.5"
                checked={chosen.includes(p)}
                disabled={!p.fits}
                onChange={() => turn(p)}
              />
              {p.fits && (
                <SmallDrawing
                  project={project.id}
                  spec={{
                    cut: { ...p.cut, shown_set: "" },
                    style: { ...settings.new_style, scale: 200, levels: false, grid: false },
                  }}
                  width={128}
                  height={80}
                />
              )}
              <span className="min-w-0 text-sm">
                <b className="block truncate">{p.title}</b>
                <span className="figures text-xs">{scaleText(p.scale)}</span>
                <span className="block text-xs opacity-85">
                  {p.there !== null ? had(p) : p.fits ? p.why : `No place here: ${p.why}`}
                </span>
              </span>
            </label>
          </li>
        ))}
      </ul>
      <footer className="flex items-center justify-end gap-2 border-t border-base-300 px-4 py-2">
        <label className="mr-auto flex items-center gap-2 text-sm">
          Sheets
          <select
            className="select select-xs w-56"
            aria-label="Sheets"
            value={template}
            onChange={(event) => setTemplate(event.target.value)}
          >
            <option value="">none: drawings alone</option>
            {project.templates.templates.map((t) => (
              <option key={t.name} value={t.name}>
                by “{t.name}”
              </option>
            ))}
          </select>
        </label>
        <button type="button" className="btn btn-ghost btn-sm" onClick={onClose}>
          Leave
        </button>
        <button
          type="button"
          className="btn btn-primary btn-sm"
          disabled={chosen.length === 0 || document.isPending}
          onClick={make}
        >
          Make {chosen.length} {chosen.length === 1 ? "drawing" : "drawings"}
          {template !== "" && " and their sheets"}
        </button>
      </footer>
    </div>
  );
}

const had = (p: Proposed) =>
  p.placed ? "The project has it already, on a sheet" : "The project has it already, on no sheet";

type KeptProps = { project: number; kept: number | null; onKept: (kept: number | null) => void };

/** Which set: the one for this model, or one that a project kept; and a way to keep this project's drawings. */
function KeptSets({ project, kept, onKept }: KeptProps) {
  const key = ["kept sets"];
  const { data: sets = [] } = useQuery({
    queryKey: key,
    staleTime: 0,
    queryFn: () => unwrap<KeptSet[]>(client.GET("/api/starter-sets")),
  });
  const act = async (work: () => Promise<unknown>) => {
    try {
      await work();
    } catch (problem) {
      report(problem);
    }
    await queryClient.invalidateQueries({ queryKey: key });
  };
  const keep = (name: string) =>
    act(() =>
      unwrap<KeptSet>(
        client.POST("/api/projects/{id}/starter-sets", {
          params: { path: { id: project } },
          body: { name, drawings: null },
        }),
      ),
    );
  const remove = (id: number) =>
    act(async () => {
      await unwrap(client.DELETE("/api/starter-sets/{id}", { params: { path: { id } } }));
      onKept(null);
    });
  return (
    <div className="mt-1 flex flex-wrap items-center gap-2 text-sm">
      <select
        className="select select-xs w-56"
        aria-label="Set"
        value={kept ?? ""}
        onChange={(event) => onKept(event.target.value ? Number(event.target.value) : null)}
      >
        <option value="">For this model</option>
        {sets.map((s) => (
          <option key={s.id} value={s.id}>
            {s.name} ({s.drawings})
          </option>
        ))}
      </select>
      {kept !== null && (
        <button type="button" className="btn btn-ghost btn-xs" onClick={() => remove(kept)}>
          Delete this set
        </button>
      )}
      <div className="ml-auto w-72">
        <NameForm
          label="New starter set"
          placeholder="Keep this project's drawings as"
          act="Keep"
          onName={keep}
        />
      </div>
    </div>
  );
}
