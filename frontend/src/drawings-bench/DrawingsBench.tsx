import { useEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { Group, Panel, Separator } from "react-resizable-panels";
import { useSearchParams } from "react-router";
import type { Cut, Drawing, Project, SectionCut, Settings } from "../api/client";
import { client, unwrap } from "../api/client";
import { report, useDrawings, useSaveDrawing, useSheets } from "../api/queries";
import { useBench } from "./bench-state";
import { Lineage } from "./Lineage";
import { Particulars } from "./Particulars";
import { EmptyResult, ResultPane } from "./ResultPane";
import { SheetShelf } from "./SheetShelf";
import { SourcePane } from "./SourcePane";
import { draftCut, useLineTool } from "./use-line-tool";

/** The drawings bench: source at the left, result at the right, and what belongs to them around. */
export function DrawingsBench({ project, settings }: { project: Project; settings: Settings }) {
  const { data: drawings = [] } = useDrawings(project.id);
  const { data: sheets = [] } = useSheets(project.id);
  const { chosen, choose, live, setLive, draft } = useBench();
  const save = useSaveDrawing(project.id);
  const [query, setQuery] = useSearchParams();

  // a link from a sheet or the palette names the drawing to open
  const asked = Number(query.get("drawing")) || undefined;
  useEffect(() => {
    if (asked === undefined) return;
    choose(project.id, asked);
    setQuery({}, { replace: true });
  }, [asked, choose, project.id, setQuery]);

  const plans = drawings.filter((d) => d.cut.kind === "plan");
  const sections = drawings.filter((d) => d.cut.kind === "section");
  const floors = plans.filter((d) => d.kind === "plan");
  const current = drawings.find((d) => d.id === chosen[project.id]) ?? groundPlan(floors, project);
  const result = current && current.cut.kind !== "plan" ? current : undefined;
  const section = current?.cut.kind === "section" ? current : undefined;
  const plan = current?.cut.kind === "plan" ? current : sourceOf(result, plans, project);
  const tool = useLineTool(project.id, plan, settings);

  const liveOf = (drawing: Drawing | undefined) => (drawing && live?.id === drawing.id ? live : undefined);
  const saveNow = (drawing: Drawing, change: Parameters<typeof save.mutate>[0]["change"]) => {
    const { cut, style } = liveOf(drawing) ?? drawing;
    if (change.cut || change.style)
      setLive({ id: drawing.id, cut: change.cut ?? cut, style: change.style ?? style, saving: true });
    save.mutate(
      { id: drawing.id, change },
      { onSettled: () => useBench.getState().live?.id === drawing.id && setLive(null) },
    );
  };
  const showCut = (cut: Cut) => {
    if (!result) return;
    setLive({ id: result.id, cut, style: (liveOf(result) ?? result).style });
  };
  const dropCut = () => {
    const now = useBench.getState().live;
    if (result && now?.id === result.id) saveNow(result, { cut: now.cut });
  };
  const turn = () => {
    const cut = liveOf(result)?.cut ?? result?.cut;
    if (result && cut && cut.kind !== "plane" && cut.kind !== "plan")
      saveNow(result, { cut: { ...cut, look: cut.look === "left" ? "right" : "left" } });
  };
  const remove = async (drawing: Drawing) => {
    try {
      await unwrap(client.DELETE("/api/drawings/{id}", { params: { path: { id: drawing.id } } }));
      if (drawing.id === current?.id) choose(project.id, drawing.parent_id ?? undefined);
    } catch (error) {
      report(error);
    }
  };
  useHotkeys("f", turn, { enabled: result !== undefined && !draft }, [result, live]);
  useHotkeys("delete", () => result && remove(result), { enabled: result !== undefined && !draft }, [result]);

  const drafted = draftCut(draft, settings);
  const litCut = (liveOf(section)?.cut ?? section?.cut) as SectionCut | undefined;
  const shown = liveOf(current) ?? current;
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex min-h-0 flex-1">
        <div className="w-52 shrink-0 border-r border-base-300">
          <Lineage
            project={project}
            settings={settings}
            drawings={drawings}
            chosen={current?.id}
            onChoose={(d) => choose(project.id, d.id)}
            onRename={(d, name) => saveNow(d, { name })}
            onDelete={remove}
          />
        </div>
        <div className="flex min-w-0 flex-1 flex-col">
          <Trail project={project} plan={plan} result={result} onChoose={(d) => choose(project.id, d.id)} />
          <Group orientation="horizontal" className="min-h-0 flex-1">
            <Panel minSize="20%">
              {plan && (
                <SourcePane
                  project={project.id}
                  plan={plan}
                  live={liveOf(plan)}
                  sections={sections}
                  lit={section}
                  litCut={litCut}
                  settings={settings}
                  tool={tool}
                  onCut={showCut}
                  onDrop={dropCut}
                />
              )}
            </Panel>
            <Separator className="w-1 bg-base-300 hover:bg-secondary focus:bg-secondary" />
            <Panel minSize="20%">
              {drafted || (result && !draft) ? (
                <ResultPane
                  project={project.id}
                  drawing={draft ? undefined : result}
                  live={drafted && draft ? { cut: drafted, style: settings.new_style } : liveOf(result)}
                  onCut={showCut}
                  onDrop={dropCut}
                  onTurn={result?.cut.kind === "plane" ? undefined : turn}
                />
              ) : (
                <EmptyResult
                  sections={sections.filter((s) => s.parent_id === plan?.id)}
                  onStart={tool.start}
                  onChoose={(d) => choose(project.id, d.id)}
                />
              )}
            </Panel>
          </Group>
        </div>
        <div className="w-56 shrink-0 border-l border-base-300">
          {current && shown && (
            <Particulars
              project={project}
              drawing={current}
              cut={shown.cut}
              style={shown.style}
              settings={settings}
              sheets={sheets}
              onSave={(change) => saveNow(current, change)}
              onTurn={turn}
            />
          )}
        </div>
      </div>
      <div className="h-24 shrink-0 border-t border-base-300">
        <SheetShelf project={project.id} sheets={sheets} />
      </div>
    </div>
  );
}

/** The plan whose storey lies nearest the datum: where people begin. */
function groundPlan(plans: Drawing[], project: Project): Drawing | undefined {
  const height = (d: Drawing) => {
    const storey = project.facts.storeys.find((s) => d.cut.kind === "plan" && s.guid === d.cut.storey);
    return Math.abs(storey?.elevation ?? 1e6);
  };
  return [...plans].sort((a, b) => height(a) - height(b))[0];
}

const sourceOf = (result: Drawing | undefined, plans: Drawing[], project: Project) =>
  plans.find((p) => p.id === result?.parent_id) ??
  groundPlan(
    plans.filter((p) => p.kind === "plan"),
    project,
  );

type TrailProps = {
  project: Project;
  plan: Drawing | undefined;
  result: Drawing | undefined;
  onChoose: (drawing: Drawing) => void;
};

function Trail({ project, plan, result, onChoose }: TrailProps) {
  const steps = [result && result.parent_id !== plan?.id ? undefined : plan, result].filter(
    (d) => d !== undefined,
  );
  return (
    <nav
      aria-label="Trail"
      className="flex h-6 items-center gap-1.5 border-b border-base-300 px-2 text-xs opacity-85"
    >
      <span className="truncate">{project.facts.name}</span>
      {steps.map((d) => (
        <span key={d.id} className="flex items-center gap-1.5">
          <span aria-hidden="true">›</span>
          <button type="button" className="link link-hover truncate" onClick={() => onChoose(d)}>
            {d.title}
          </button>
        </span>
      ))}
    </nav>
  );
}
