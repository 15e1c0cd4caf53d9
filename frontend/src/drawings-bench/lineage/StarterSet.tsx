import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useNavigate } from "react-router";
import type { Drawing, KeptMade, KeptSet, Project, Proposed, Settings } from "../../api/client";
import { client, unwrap } from "../../api/client";
import { keys, queryClient, report, useDrawings } from "../../api/queries";
import { sayWhatIsLeft, useDocument } from "../../api/sheet-acts";
import { rulesNow } from "../../desk/rules";
import { SmallDrawing } from "../../drawing/SmallDrawing";
import { FileField } from "../../fields/FileField";
import { NameForm } from "../../fields/NameForm";
import { scaleText } from "../../fields/scale";
import { type ByHand, PlaceByHand } from "./PlaceByHand";

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
  const { data: sets = [] } = useKeptSets();
  const withSheets = (sets.find((s) => s.id === kept)?.sheets ?? 0) > 0;
  const [picked, setTemplate] = useState("");
  const template = picked === AS_KEPT && !withSheets ? "" : picked;
  const [left, setLeft] = useState<KeptMade | null>(null);
  const rules = rulesNow(project.id);
  const [turned, setTurned] = useState<ReadonlyMap<string, boolean>>(new Map());
  const document = useDocument(project.id);
  const navigate = useNavigate();
  // what is there already is not made again, but comes on a sheet if it stands on none
  const { data: drawings = [] } = useDrawings(project.id);
  const [places, setPlaces] = useState<Record<string, ByHand>>({});
  const has = (p: Proposed): boolean => {
    const parent = data?.find((one) => one.key === p.parent);
    return p.fits || p.key in places || (parent !== undefined && !parent.fits && has(parent));
  };
  const usual = (p: Proposed) => p.there === null || (template !== "" && !p.placed);
  const chosen = (data ?? []).filter((p) => has(p) && (turned.get(p.key) ?? usual(p)));
  const turn = (p: Proposed) => setTurned(new Map(turned).set(p.key, !chosen.includes(p)));
  const onSheets = () => {
    const there = chosen.flatMap((p) => p.there ?? []);
    const fresh = chosen.filter((p) => p.there === null).map((p) => p.key);
    const starter = fresh.length > 0 ? { kept, keys: fresh, rules, places } : null;
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
    if (template !== "" && template !== AS_KEPT) {
      onSheets();
      return;
    }
    try {
      if (template === AS_KEPT) {
        const body = { kept, keys: chosen.map((p) => p.key), rules: [], places };
        const made = await unwrap<KeptMade>(
          client.POST("/api/projects/{id}/kept-project", { ...path, body }),
        );
        await queryClient.invalidateQueries({ queryKey: keys.project(project.id) });
        if (made.left.length > 0) setLeft(made);
        else onClose();
        return;
      }
      const body = { kept, keys: chosen.map((p) => p.key), rules, places };
      const made = await unwrap<Drawing[]>(client.POST("/api/projects/{id}/starter-set", { ...path, body }));
      await queryClient.invalidateQueries({ queryKey: keys.drawings(project.id), exact: true });
      onClose();
      if (made[0]) onMade(made[0]);
    } catch (problem) {
      report(problem);
    }
  };
  useHotkeys("escape", onClose);
  if (left) return <WhatIsLeft made={left} onClose={onClose} />;
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
        <KeptSets
          project={project.id}
          kept={kept}
          onKept={(one) => {
            setKept(one);
            setPlaces({});
          }}
        />
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
                disabled={!has(p)}
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
            {!p.fits && (
              <PlaceByHand
                project={project}
                drawings={drawings}
                proposed={p}
                value={places[p.key]}
                onChange={(place) =>
                  setPlaces((old) => {
                    const { [p.key]: _, ...others } = old;
                    return place ? { ...others, [p.key]: place } : others;
                  })
                }
              />
            )}
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
            {withSheets && <option value={AS_KEPT}>as they were kept, with tables and sets</option>}
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

const AS_KEPT = "as kept";

/** What of a kept project did not come along, or not as it was. */
function WhatIsLeft({ made, onClose }: { made: KeptMade; onClose: () => void }) {
  return (
    <div
      role="dialog"
      aria-label="What did not come along"
      className="fixed inset-x-0 top-14 z-40 mx-auto flex max-h-[85vh] w-[50rem] max-w-[94vw] flex-col rounded border border-base-300 bg-base-100 shadow-xl"
    >
      <header className="border-b border-base-300 px-4 py-2">
        <h2 className="text-base font-semibold">
          {made.drawings.length} drawings, {made.sheets.length} sheets and {made.tables.length} tables are
          there
        </h2>
        <p className="text-sm opacity-85">These did not come along, or not as they were:</p>
      </header>
      <ul className="list-disc overflow-y-auto py-3 pr-4 pl-8 text-sm">
        {made.left.map((says) => (
          <li key={says}>{says}</li>
        ))}
      </ul>
      <footer className="flex justify-end border-t border-base-300 px-4 py-2">
        <button type="button" className="btn btn-primary btn-sm" onClick={onClose}>
          Go on
        </button>
      </footer>
    </div>
  );
}

const had = (p: Proposed) =>
  p.placed ? "The project has it already, on a sheet" : "The project has it already, on no sheet";

const KEPT = ["kept sets"];

/** What projects kept for others. */
const useKeptSets = () =>
  useQuery({
    queryKey: KEPT,
    staleTime: 0,
    queryFn: () => unwrap<KeptSet[]>(client.GET("/api/starter-sets")),
  });

type KeptProps = { project: number; kept: number | null; onKept: (kept: number | null) => void };

/** Which set: the one for this model, or one that a project kept; and a way to keep this project's drawings. */
function KeptSets({ project, kept, onKept }: KeptProps) {
  const field = useRef<HTMLInputElement>(null);
  const { data: sets = [] } = useKeptSets();
  const act = async (work: () => Promise<unknown>) => {
    try {
      await work();
    } catch (problem) {
      report(problem);
    }
    await queryClient.invalidateQueries({ queryKey: KEPT });
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
  const read = (file: File) =>
    act(async () => {
      const form = new FormData();
      form.append("file", file);
      const made = await unwrap<KeptSet>(client.POST("/api/starter-sets/file", { body: form as never }));
      onKept(made.id);
    });
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
            {s.name} ({s.drawings}
            {s.sheets > 0 && `, ${s.sheets} ${s.sheets === 1 ? "sheet" : "sheets"}`})
          </option>
        ))}
      </select>
      {kept !== null && (
        <>
          <a className="btn btn-ghost btn-xs" href={`/api/starter-sets/${kept}/file`} download>
            As a file
          </a>
          <button type="button" className="btn btn-ghost btn-xs" onClick={() => remove(kept)}>
            Delete this set
          </button>
        </>
      )}
      <button type="button" className="btn btn-ghost btn-xs" onClick={() => field.current?.click()}>
        From a file …
      </button>
      <FileField field={field} label="File of a kept project" accept=".json" onFile={read} />
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
