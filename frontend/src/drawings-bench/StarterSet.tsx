import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import type { Drawing, Project, Proposed, Settings } from "../api/client";
import { client, unwrap } from "../api/client";
import { keys, queryClient, report } from "../api/queries";
import { SmallDrawing } from "../drawing/SmallDrawing";
import { scaleText } from "../fields/scale";

type Props = {
  project: Project;
  settings: Settings;
  onMade: (drawing: Drawing) => void;
  onClose: () => void;
};

/** What a project begins with: proposed with reasons and pictures, made in one act. */
export function StarterSet({ project, settings, onMade, onClose }: Props) {
  const path = { params: { path: { id: project.id } } };
  const { data, error } = useQuery({
    queryKey: ["starter set", project.id],
    staleTime: 0,
    queryFn: () => unwrap<Proposed[]>(client.GET("/api/projects/{id}/starter-set", path)),
  });
  const [unwanted, setUnwanted] = useState<ReadonlySet<string>>(new Set());
  const [wanted, setWanted] = useState<ReadonlySet<string>>(new Set());
  const chosen = (data ?? []).filter((p) => (p.there ? wanted.has(p.key) : !unwanted.has(p.key)));
  const turn = ({ key, there }: Proposed) => {
    const [set, keep] = there ? [wanted, setWanted] : [unwanted, setUnwanted];
    const next = new Set(set);
    if (!next.delete(key)) next.add(key);
    keep(next);
  };
  const make = async () => {
    try {
      const body = { keys: chosen.map((p) => p.key) };
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
          Fitted to this model: its storeys, its sides, and the sections that explain most.
        </p>
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
                onChange={() => turn(p)}
              />
              <SmallDrawing
                project={project.id}
                spec={{
                  cut: p.cut,
                  style: { ...settings.new_style, scale: 200, levels: false, grid: false },
                }}
                width={128}
                height={80}
              />
              <span className="min-w-0 text-sm">
                <b className="block truncate">{p.title}</b>
                <span className="figures text-xs">{scaleText(p.scale)}</span>
                <span className="block text-xs opacity-85">
                  {p.there ? "The project has it already" : p.why}
                </span>
              </span>
            </label>
          </li>
        ))}
      </ul>
      <footer className="flex justify-end gap-2 border-t border-base-300 px-4 py-2">
        <button type="button" className="btn btn-ghost btn-sm" onClick={onClose}>
          Leave
        </button>
        <button
          type="button"
          className="btn btn-primary btn-sm"
          disabled={chosen.length === 0}
          onClick={make}
        >
          Make {chosen.length} {chosen.length === 1 ? "drawing" : "drawings"}
        </button>
      </footer>
    </div>
  );
}
