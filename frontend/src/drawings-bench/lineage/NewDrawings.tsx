import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Plus } from "lucide-react";
import { useState } from "react";
import type { DrawingKind, DrawingSet, PlaneCut, Project, Settings } from "../../api/client";
import { client, type Drawing, unwrap } from "../../api/client";
import { useDrawingRules } from "../../api/drawing-rules";
import { addDrawing, keys, report } from "../../api/queries";
import { useBench } from "../../desk/drawings-state";
import { ruleNow } from "../../desk/rules";
import { LengthField } from "../../fields/LengthField";
import { useCommand } from "../../shell/commands";
import { RuleChoice } from "../modes/RuleChoice";
import { StarterSet } from "./StarterSet";

const OF_SET: Record<DrawingSet["kind"], DrawingKind> = {
  elevations: "elevation",
  "interior elevations": "interior elevation",
  plans: "plan",
  "ceiling plans": "ceiling plan",
};
const RULED: [DrawingKind, string][] = [
  ["elevation", "Elevations by"],
  ["plan", "Plans by"],
  ["ceiling plan", "Ceiling plans by"],
  ["interior elevation", "Room walls by"],
];
const CUT_HEIGHT = 1.2; // metres above a storey's floor, unless said otherwise

/** Drawings that are not cut on a plan: elevations, a room's walls, plans of every storey, a free plane. */
export function NewDrawings({
  project,
  settings,
  onMade,
}: {
  project: Project;
  settings: Settings;
  onMade: (drawing: Drawing) => void;
}) {
  const [open, setOpen] = useState(false);
  const { starting, setStarting } = useBench();
  useCommand({
    name: "Starter set: what a project begins with",
    group: "Drawing",
    run: () => setStarting(true),
  });
  const [room, setRoom] = useState("");
  const [heights, setHeights] = useState<Record<string, number>>({});
  const cache = useQueryClient();
  useDrawingRules(project.id); // known by the time that something is made
  const path = { params: { path: { id: project.id } } };
  const done = {
    onSuccess: (made: Drawing[]) => {
      setOpen(false);
      cache.setQueryData<Drawing[]>(keys.drawings(project.id), (old) => [...(old ?? []), ...made]);
      if (made[0]) onMade(made[0]);
    },
    onError: report,
    onSettled: () => cache.invalidateQueries({ queryKey: keys.project(project.id) }),
  };
  const set = useMutation({
    mutationFn: (body: DrawingSet) =>
      unwrap<Drawing[]>(client.POST("/api/projects/{id}/drawing-sets", { ...path, body })),
    ...done,
  });
  const free = useMutation({
    mutationFn: async () => [
      await addDrawing(project.id, {
        parent_id: null,
        cut: throughTheMiddle(project, settings),
        style: settings.new_style,
      }),
    ],
    ...done,
  });
  const make = (kind: DrawingSet["kind"], part: Partial<DrawingSet> = {}) =>
    set.mutate({
      kind,
      space: "",
      heights: {},
      scale: 100,
      rule: ruleNow(project.id, OF_SET[kind])?.key ?? "",
      ...part,
    });
  const busy = set.isPending || free.isPending;
  const spaces = [...project.facts.spaces].sort((a, b) => a.number.localeCompare(b.number));
  const chosenRoom = room || spaces[0]?.guid || "";
  const entry = "btn btn-ghost btn-xs w-full justify-start font-normal";
  return (
    <div className="relative">
      <button
        type="button"
        className="btn btn-ghost btn-xs"
        aria-expanded={open}
        onClick={() => setOpen((now) => !now)}
        title="Elevations, ceiling plans, walls of a room, a free plane"
      >
        <Plus size={13} /> New
      </button>
      {starting && <StarterSet {...{ project, settings, onMade }} onClose={() => setStarting(false)} />}
      {open && (
        <fieldset
          className="absolute top-7 left-0 z-20 flex w-60 flex-col gap-0.5 rounded border border-base-300 bg-base-100 p-1.5 shadow-lg"
          disabled={busy}
          aria-label="New drawings"
        >
          <button
            type="button"
            className={entry}
            onClick={() => {
              setOpen(false);
              setStarting(true);
            }}
          >
            Starter set …
          </button>
          <button type="button" className={entry} onClick={() => make("elevations")}>
            Elevations of the four sides
          </button>
          <button type="button" className={entry} onClick={() => make("plans", { heights })}>
            A plan of every storey
          </button>
          <button type="button" className={entry} onClick={() => make("ceiling plans", { heights })}>
            A ceiling plan of every storey
          </button>
          <CutHeights project={project} heights={heights} onChange={setHeights} />
          {RULED.map(([kind, label]) => (
            <RuleChoice key={kind} project={project.id} kind={kind} label={label} />
          ))}
          <button type="button" className={entry} onClick={() => free.mutate()}>
            A section on a free plane
          </button>
          {spaces.length > 0 && (
            <div className="mt-1 flex gap-1 border-t border-base-300 pt-1.5">
              <select
                className="select select-xs min-w-0 flex-1"
                aria-label="Room"
                value={chosenRoom}
                onChange={(event) => setRoom(event.target.value)}
              >
                {spaces.map((s) => (
                  <option key={s.guid} value={s.guid}>
                    {s.number} {s.name}
                  </option>
                ))}
              </select>
              <button
                type="button"
                className="btn btn-xs"
                onClick={() => make("interior elevations", { space: chosenRoom, scale: 50 })}
              >
                Its walls
              </button>
            </div>
          )}
        </fieldset>
      )}
    </div>
  );
}

type HeightProps = {
  project: Project;
  heights: Record<string, number>;
  onChange: (heights: Record<string, number>) => void;
};

/** How high above each storey's floor its plan is cut. */
function CutHeights({ project, heights, onChange }: HeightProps) {
  return (
    <details className="px-2 text-xs">
      <summary className="cursor-pointer py-0.5">Cut heights</summary>
      <div className="flex flex-col gap-1 py-1">
        {project.facts.storeys.map((s) => (
          <LengthField
            key={s.guid}
            label={s.name}
            value={heights[s.guid] ?? CUT_HEIGHT}
            onChange={(metres) => metres !== null && onChange({ ...heights, [s.guid]: metres })}
          />
        ))}
      </div>
    </details>
  );
}

/** An upright plane through the middle of the building, to be moved and tilted by its numbers. */
function throughTheMiddle(project: Project, settings: Settings): PlaneCut {
  const { low, high } = project.facts;
  const middle = [0, 1, 2].map((k) => Math.round((((low[k] ?? 0) + (high[k] ?? 0)) / 2) * 100) / 100);
  const seen = settings.new_section;
  return {
    kind: "plane",
    of: "cut",
    openings: [],
    point: [middle[0] ?? 0, middle[1] ?? 0, middle[2] ?? 0],
    normal: [0, -1, 0.3],
    depth: null,
    extents: seen.extents,
    without: seen.without,
    left_out: seen.left_out,
    without_disciplines: seen.without_disciplines,
    whole: seen.whole,
    whole_kinds: seen.whole_kinds,
    held: null,
    shown_set: seen.shown_set,
    shared_extents: seen.shared_extents,
    see_through: seen.see_through,
    see_through_kinds: seen.see_through_kinds,
    hidden: seen.hidden,
    glass: seen.glass,
    perspective: seen.perspective,
  };
}
