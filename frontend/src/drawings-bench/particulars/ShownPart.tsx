import { useQuery } from "@tanstack/react-query";
import { Eye } from "lucide-react";
import { type Cut, client, type Element, type Project, type ShownSet, unwrap } from "../../api/client";
import { elementsOf } from "../../api/elements";
import { report, useShownSets } from "../../api/queries";
import { useBench } from "../../desk/drawings-state";
import { Check, Choice } from "../../fields/Choice";
import { NameForm } from "../../fields/NameForm";
import { Part } from "../../fields/Part";
import { ShownSetEditor } from "./ShownSetEditor";

const HIDDEN = [
  ["off", "left out"],
  ["below ground", "dashed below ground"],
  ["dashed", "dashed"],
] as const;

type Props = { project: Project; cut: Cut; onSave: (change: { cut: Cut }) => void };

/** What shows: by a set that several drawings share, and what this drawing does differently. */
export function ShownPart({ project, cut, onSave }: Props) {
  const { data: sets = [] } = useShownSets(project.id);
  const { ghost, setGhost } = useBench();
  const set = (change: Partial<Cut>) => onSave({ cut: { ...cut, ...change } as Cut });
  const without = new Set(cut.without ?? []);
  const leftOut = cut.left_out ?? [];
  const toggle = (kind: string, show: boolean) => {
    const next = new Set(without);
    if (show) next.delete(kind);
    else next.add(kind);
    set({ without: [...next].sort() });
  };
  const followed = sets.find((s) => s.key === cut.shown_set);
  const loose = looseOf(project, sets);
  const hides = without.size > 0 || leftOut.length > 0 || followed !== undefined;
  return (
    <Part title="What shows">
      <Choice
        label="Shown set"
        value={cut.shown_set ?? ""}
        options={[["", "none"], ...sets.map((s) => [s.key, s.name] as const)]}
        onChange={(shown_set) => set({ shown_set })}
      />
      {followed && (without.size > 0 || leftOut.length > 0) && (
        <p className="text-xs">
          Departs from “{followed.name}”: {departures(without.size, leftOut.length)}.
        </p>
      )}
      <SetActs project={project.id} cut={cut} sets={sets} onSave={set} />
      {sets
        .filter((s) => s.id !== null)
        .map((s) => (
          <ShownSetEditor key={s.key} project={project} shown={s} />
        ))}
      {leftOut.length > 0 && (
        <LeftOut
          project={project.id}
          guids={leftOut}
          onShow={(guids) => set({ left_out: leftOut.filter((g) => !guids.includes(g)) })}
        />
      )}
      {hides && <Check label="Ghost what is hidden" checked={ghost} onChange={setGhost} />}
      <Choice
        label="Hidden lines"
        value={cut.hidden ?? "off"}
        options={HIDDEN}
        onChange={(hidden) => set({ hidden })}
      />
      <Check
        label="Through glass"
        checked={cut.glass === "clear"}
        onChange={(clear) => set({ glass: clear ? "clear" : "solid" })}
      />
      <div className="grid grid-cols-2 gap-x-2 gap-y-1">
        {Object.entries(project.facts.kinds).map(([kind, count]) =>
          loose.includes(kind) ? null : (
            <label key={kind} className="flex items-center gap-1.5" title={`${count} in the model`}>
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={!without.has(kind)}
                onChange={(event) => toggle(kind, event.target.checked)}
              />
              <span className="truncate">{kind}</span>
            </label>
          ),
        )}
      </div>
      {loose.length > 0 && <p className="opacity-80">Loose things where the cut meets them</p>}
      <LooseThings kinds={loose} cut={cut} rule={followed?.rule} onSave={set} />
    </Part>
  );
}

function departures(kinds: number, elements: number): string {
  const parts = [
    kinds > 0 ? `${kinds} ${kinds === 1 ? "kind" : "kinds"}` : "",
    elements > 0 ? `${elements} ${elements === 1 ? "element" : "elements"}` : "",
  ];
  return `${parts.filter(Boolean).join(" and ")} hidden here`;
}

/** The kinds of loose things that a model has: what the shipped set without them leaves out. */
function looseOf(project: Project, sets: ShownSet[]): string[] {
  const loose = sets.find((s) => s.key === "no-loose-things")?.rule.without_kinds ?? [];
  return loose.filter((kind) => kind in project.facts.kinds);
}

const CROSSED = [
  ["cut", "cut"],
  ["whole", "drawn whole"],
  ["out", "left out"],
] as const;

type LooseProps = {
  kinds: string[];
  cut: Cut;
  rule: ShownSet["rule"] | undefined;
  onSave: (change: Partial<Cut>) => void;
};

/** Furniture, people, planting where the cut meets them: cut through, drawn whole, or left out. */
function LooseThings({ kinds, cut, rule, onSave }: LooseProps) {
  const { without = [], whole_kinds = [] } = cut;
  const others = (list: string[], kind: string) => list.filter((k) => k !== kind);
  return kinds.map((kind) => {
    const followed = rule?.without_kinds.includes(kind)
      ? "out"
      : rule?.whole_kinds.includes(kind)
        ? "whole"
        : "cut";
    const now = without.includes(kind) ? "out" : whole_kinds.includes(kind) ? "whole" : followed;
    const by = CROSSED.filter(
      ([value]) => CROSSED.findIndex(([v]) => v === followed) <= CROSSED.findIndex(([v]) => v === value),
    );
    return (
      <Choice
        key={kind}
        label={kind}
        value={now}
        options={by}
        onChange={(next) =>
          onSave({
            without:
              next === "out" && followed !== "out"
                ? [...others(without, kind), kind].sort()
                : others(without, kind),
            whole_kinds:
              next === "whole" && followed !== "whole"
                ? [...others(whole_kinds, kind), kind].sort()
                : others(whole_kinds, kind),
          })
        }
      />
    );
  });
}

type ActsProps = { project: number; cut: Cut; sets: ShownSet[]; onSave: (change: Partial<Cut>) => void };

/** What this drawing hides becomes a set that others can follow; a set of the project's own is changed by it. */
function SetActs({ project, cut, sets, onSave }: ActsProps) {
  const own = sets.find((s) => s.key === cut.shown_set && s.id !== null);
  const base = sets.find((s) => s.key === cut.shown_set)?.rule;
  const hides =
    (cut.without?.length ?? 0) +
      (cut.left_out?.length ?? 0) +
      (cut.without_disciplines?.length ?? 0) +
      (cut.whole_kinds?.length ?? 0) >
    0;
  if (!hides) return null;
  const merged = (a: string[] = [], b: string[] = []) => [...new Set([...a, ...b])];
  const rule = {
    only_kinds: base?.only_kinds ?? [],
    without_materials: base?.without_materials ?? [],
    without_properties: base?.without_properties ?? [],
    without_disciplines: [
      ...new Set([...(base?.without_disciplines ?? []), ...(cut.without_disciplines ?? [])]),
    ],
    storeys: base?.storeys ?? [],
    without_kinds: merged(base?.without_kinds, cut.without),
    without_elements: merged(base?.without_elements, cut.left_out),
    whole_kinds: merged(base?.whole_kinds, cut.whole_kinds),
  };
  const follow = (shown_set: string) =>
    onSave({ shown_set, without: [], left_out: [], without_disciplines: [], whole_kinds: [] });
  const keep = async (name: string) => {
    try {
      const made = own
        ? await unwrap<ShownSet>(
            client.PATCH("/api/shown-sets/{id}", {
              params: { path: { id: own.id ?? 0 } },
              body: { name: own.name, rule, version: own.version },
            }),
          )
        : await unwrap<ShownSet>(
            client.POST("/api/projects/{id}/shown-sets", {
              params: { path: { id: project } },
              body: { name, rule },
            }),
          );
      follow(made.key);
    } catch (error) {
      report(error);
    }
  };
  return own ? (
    <button type="button" className="btn btn-xs" onClick={() => keep(own.name)}>
      Change “{own.name}” by this
    </button>
  ) : (
    <NameForm label="A new shown set" placeholder="Name for a set of this" act="Keep" onName={keep} />
  );
}

type LeftOutProps = { project: number; guids: string[]; onShow: (guids: string[]) => void };
const LISTED = 12;

/** The elements that this drawing leaves out, each with the way back. */
function LeftOut({ project, guids, onShow }: LeftOutProps) {
  const { data: elements = [] } = useQuery({
    queryKey: ["elements", project, guids.join(" ")],
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (before: Element[] | undefined) => before,
    queryFn: () => elementsOf(project, guids),
  });
  const known = elements.filter((e) => guids.includes(e.guid));
  return (
    <ul aria-label="Hidden here" className="flex flex-col text-xs">
      {known.slice(0, LISTED).map((e) => (
        <li key={e.guid} className="flex items-center gap-1">
          <span className="min-w-0 flex-1 truncate">{e.name || e.kind}</span>
          <button
            type="button"
            className="btn btn-ghost btn-xs btn-square size-4 min-h-0"
            aria-label={`Show ${e.name || e.kind} again`}
            onClick={() => onShow([e.guid])}
          >
            <Eye size={12} />
          </button>
        </li>
      ))}
      <li>
        <button type="button" className="link" onClick={() => onShow(guids)}>
          Show all {guids.length} again
        </button>
      </li>
    </ul>
  );
}
