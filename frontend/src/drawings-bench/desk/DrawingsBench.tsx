import { useDeferredValue, useEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useNavigate, useSearchParams } from "react-router";
import { AnnotateCommands } from "../../annotating/AnnotateTools";
import type { Drawing, Project, Settings } from "../../api/client";
import { useAnnounced } from "../../api/events/presence";
import { type DrawingChange, useDrawings, useSheets } from "../../api/queries";
import { startRecut } from "../../api/recut";
import { useBench } from "../../desk/drawings-state";
import { ruleNow, settingsBy } from "../../desk/rules";
import { useStable } from "../../desk/use-stable";
import { useLook } from "../../drawing/look";
import { useCommand } from "../../shell/commands";
import { useBodyCommand } from "../bodies/body-tool";
import { draftCut, line } from "../cutting/line-draft";
import { startLineAt, useLineCommand } from "../cutting/line-tool";
import { useMeasureCommand } from "../cutting/measure-tool";
import { OfferedSection } from "../cutting/OfferedSection";
import { offer } from "../cutting/offer-tool";
import { Lineage } from "../lineage/Lineage";
import { useRemoval } from "../lineage/use-removal";
import { stepBack } from "../modes/tools";
import { EmptyResult } from "../panes/EmptyResult";
import { ModelBeside } from "../panes/ModelBeside";
import { Panes, useAlignedPair } from "../panes/Panes";
import { ResultPane } from "../panes/ResultPane";
import { SourcePane } from "../panes/SourcePane";
import { Particulars } from "../particulars/Particulars";
import { useBenchOf } from "./bench";
import { DeskTools } from "./DeskTools";
import { useDesk } from "./desk";
import { SheetShelf } from "./SheetShelf";
import { Trail } from "./Trail";
import { canTurn } from "./use-saving";

/** The drawings bench: source at the left, result at the right, and what belongs to them around. */
export function DrawingsBench({ project, settings }: { project: Project; settings: Settings }) {
  const { data: drawings = [] } = useDrawings(project.id);
  const { data: sheets = [] } = useSheets(project.id);
  const { chosen, choose, besides, showBeside, picked } = useBench();
  const lining = line.useHeld();
  const desk = useDesk();
  const [query, setQuery] = useSearchParams();

  // a link from a sheet or the palette names the drawing to open
  const linked = Number(query.get("drawing")) || undefined;
  const asked = query.get("cut"); // where a line is to be drawn on it
  useEffect(() => {
    if (linked === undefined) return;
    choose(project.id, linked);
    const places = (asked ?? "").split(",").map(Number);
    if (asked && places.length === 4 && places.every(Number.isFinite))
      startLineAt(project.id, settings, places);
    setQuery({}, { replace: true });
  }, [linked, asked, choose, project.id, settings, setQuery]);

  const plans = drawings.filter((d) => d.cut.kind === "plan");
  const sections = drawings.filter((d) => d.cut.kind === "section" && !d.callout);
  const floors = plans.filter((d) => d.kind === "plan");
  const current =
    drawings.find((d) => d.id === chosen[project.id]) ??
    sections.find((d) => d.placement !== null) ?? // what somebody put on a sheet says more than a bare plan
    groundPlan(floors, project);
  const result = current && (current.cut.kind !== "plan" || current.callout) ? current : undefined;
  const plan = current && !result ? current : sourceOf(result, plans, project);
  const calledFrom = drawings.find((d) => current?.callout && d.id === current.parent_id);
  const other = drawings.find((d) => d.id === besides[project.id]);
  const beside = other && other.id !== current?.id && result ? other : undefined;
  // lines are drawn on a plan
  const source = lining ? plan : (beside ?? calledFrom ?? plan);
  const bench = useBenchOf({
    project,
    settings,
    drawings,
    current,
    choose: (id) => choose(project.id, id),
    beside: (id) => showBeside(project.id, id),
    panes: [source, result],
  });
  const { liveOf, saveNow } = bench;
  const { remove, removeMany } = useRemoval(project.id, current);
  useHotkeys("escape", () => void stepBack());
  useLineCommand(!lining && plan !== undefined);
  useMeasureCommand(!lining);
  useBodyCommand(!lining);
  const idle = result !== undefined && !lining;
  const group = "Drawing";
  useCommand({
    name: "Look the other way",
    group,
    keys: "f",
    enabled: idle && canTurn(result),
    run: () => result && bench.turn(result)?.(),
  });
  useCommand({
    name: "Delete the drawing",
    group,
    keys: "delete",
    enabled: idle,
    run: () => result && remove(result),
  });

  const navigate = useNavigate();
  useCommand({
    name: "Open the drawing in the Model bench",
    group,
    keys: "shift+m",
    enabled: current !== undefined && !lining,
    run: () => navigate(`/projects/${project.id}/model?drawing=${current?.id}`),
  });
  useCommand({
    name: "Zoom to a box",
    group: "Look",
    keys: "z",
    run: () => useLook.getState().setBoxing(true),
  });
  useCommand({
    name: "Cut all drawings anew in the background",
    group: "Project",
    run: () => startRecut(project.id),
  });
  useAnnounced(project.id, current?.id);

  const pickedIn = drawings.find((d) => d.id === picked?.drawing);
  const ruled = settingsBy(lining ? ruleNow(project.id, lining.drawn) : undefined, settings);
  const drafted = draftCut(lining?.draft, ruled);
  const offered = offer.useHeld()?.proposal;
  const drawn = drafted ? { cut: drafted, style: ruled.new_style } : offered;
  const shown = liveOf(current) ?? current;
  const paneOf = (drawing: Drawing | undefined) => {
    const now = drawing && (liveOf(drawing) ?? drawing);
    return now && { drawing, cut: now.cut, scale: now.style.scale };
  };
  const stacked = desk.way === "stacked" || (desk.aligned && source?.cut.kind === "plan");
  const pair = useAlignedPair(paneOf(source), lining ? undefined : paneOf(result), stacked, desk.aligned);
  const sourcePane =
    source && source.cut.kind !== "plan" ? (
      <ResultPane bench={bench} name="Source" drawing={source} shared={pair?.source} />
    ) : (
      source && <SourcePane bench={bench} plan={source} shared={pair?.source} />
    );
  const onParts = useStable({
    onSave: (change: DrawingChange) => current && saveNow(current, change),
    onTurn: () => current && bench.turn(current)?.(),
    onChoose: bench.choose,
    onSavePicked: saveNow,
  });
  // what is dragged goes before what is told of it; what is typed or ticked is told at once
  const late = useDeferredValue(shown);
  const now = liveOf(current);
  const told = now && !now.saving && !now.proposed && late?.id === now.id ? late : shown;
  const resultPane =
    drawn || (result && !lining) ? (
      <ResultPane
        bench={bench}
        name="Result"
        drawing={drawn ? undefined : result}
        drawn={drawn}
        offer={
          offered && plan && <OfferedSection project={project.id} plan={plan.id} onMade={bench.choose} />
        }
        shared={pair?.result}
      />
    ) : (
      <EmptyResult
        sections={sections.filter((s) => s.parent_id === plan?.id)}
        onChoose={(d) => bench.choose(d.id)}
      />
    );
  return (
    <div className="flex h-full min-h-0 flex-col">
      <AnnotateCommands enabled={!lining} />
      <div className="flex min-h-0 flex-1">
        {!desk.folded.lineage && (
          <div className="w-60 shrink-0 border-r border-base-300">
            <Lineage
              project={project}
              settings={settings}
              drawings={drawings}
              chosen={current?.id}
              onChoose={(d) => bench.choose(d.id)}
              onBeside={(d) => bench.beside(d.id)}
              onRename={(d, name) => saveNow(d, { name })}
              onDelete={(d) => remove(d)}
              onDeleteMany={(ids) => removeMany(ids)}
            />
          </div>
        )}
        <div className="flex min-w-0 flex-1 flex-col">
          <div className="flex h-7 items-center border-b border-base-300">
            <Trail
              project={project}
              drawings={drawings}
              current={current}
              beside={beside}
              onChoose={(d) => bench.choose(d.id)}
              onBack={() => showBeside(project.id, undefined)}
            />
            <DeskTools canAlign={pair !== null} drafting={lining !== null} />
          </div>
          <Panes
            source={sourcePane}
            result={resultPane}
            model={
              desk.model && (
                <ModelBeside
                  project={project}
                  settings={settings}
                  drawings={drawings}
                  drawing={drafted ? undefined : current}
                  spec={drawn ?? shown}
                />
              )
            }
            alone={result && !lining && !offered ? "result" : "source"}
            stacked={stacked}
            onDropped={(pane, id) => (pane === "result" ? bench.choose(id) : bench.beside(id))}
          />
        </div>
        {!desk.folded.particulars && (
          <div className="w-56 shrink-0 border-l border-base-300">
            {current && told && (
              <Particulars
                project={project}
                drawing={current}
                cut={told.cut}
                style={told.style}
                settings={settings}
                sheets={sheets}
                picked={pickedIn}
                drawings={drawings}
                shownHere={bench.markersOf(current)}
                {...onParts}
              />
            )}
          </div>
        )}
      </div>
      {!desk.folded.shelf && (
        <div className="h-24 shrink-0 border-t border-base-300">
          <SheetShelf project={project.id} sheets={sheets} />
        </div>
      )}
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
