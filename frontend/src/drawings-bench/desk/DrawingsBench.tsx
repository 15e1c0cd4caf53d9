import { useEffect, useMemo } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useNavigate, useSearchParams } from "react-router";
import { AnnotateCommands } from "../../annotating/AnnotateTools";
import type { Cut, Drawing, Project, SectionCut, Settings } from "../../api/client";
import { actOnLine, type LineAct } from "../../api/cut-help";
import { useAnnounced } from "../../api/presence";
import { report, useDrawings, useSheets } from "../../api/queries";
import { startRecut } from "../../api/recut";
import { useBench } from "../../desk/drawings-state";
import { useLook } from "../../drawing/look";
import { useCommand } from "../../shell/commands";
import { useCallouts, useMarkersOf } from "../callouts/use-callouts";
import { useMeasureCommand } from "../cutting/Measure";
import { OfferedSection } from "../cutting/OfferedSection";
import { draftCut, useLineTool } from "../cutting/use-line-tool";
import { Lineage } from "../lineage/Lineage";
import { useRemoval } from "../lineage/use-removal";
import { Particulars } from "../particulars/Particulars";
import { DeskTools } from "./DeskTools";
import { useDesk } from "./desk";
import { ModelBeside } from "./ModelBeside";
import { Panes, useAlignedPair } from "./Panes";
import { EmptyResult, ResultPane } from "./ResultPane";
import { SheetShelf } from "./SheetShelf";
import { SourcePane } from "./SourcePane";
import { Trail } from "./Trail";
import { canTurn, turnedRound, useSaving } from "./use-saving";

/** The drawings bench: source at the left, result at the right, and what belongs to them around. */
export function DrawingsBench({ project, settings }: { project: Project; settings: Settings }) {
  const { data: drawings = [] } = useDrawings(project.id);
  const { data: sheets = [] } = useSheets(project.id);
  const { chosen, choose, besides, showBeside, setLive, picked, draft } = useBench();
  const desk = useDesk();
  const { liveOf, boxOf, saveNow, dropCut } = useSaving(project.id);
  const [query, setQuery] = useSearchParams();

  // a link from a sheet or the palette names the drawing to open
  const linked = Number(query.get("drawing")) || undefined;
  useEffect(() => {
    if (linked === undefined) return;
    choose(project.id, linked);
    setQuery({}, { replace: true });
  }, [linked, choose, project.id, setQuery]);

  const plans = drawings.filter((d) => d.cut.kind === "plan");
  const sections = drawings.filter((d) => d.cut.kind === "section" && !d.callout);
  const floors = plans.filter((d) => d.kind === "plan");
  const current =
    drawings.find((d) => d.id === chosen[project.id]) ??
    sections.find((d) => d.placement !== null) ?? // what somebody put on a sheet says more than a bare plan
    groundPlan(floors, project);
  const result = current && (current.cut.kind !== "plan" || current.callout) ? current : undefined;
  const section = current?.cut.kind === "section" && !current.callout ? current : undefined;
  const plan = current && !result ? current : sourceOf(result, plans, project);
  const calledFrom = drawings.find((d) => current?.callout && d.id === current.parent_id);
  const asked = drawings.find((d) => d.id === besides[project.id]);
  const beside = asked && asked.id !== current?.id && result ? asked : undefined;
  const source = beside ?? calledFrom ?? plan;
  const tool = useLineTool(project.id, source?.cut.kind === "plan" ? source : plan, settings);
  const litCut = (liveOf(section)?.cut ?? section?.cut) as SectionCut | undefined;
  const litSpec = section && (liveOf(section) ?? section);
  const showCut = (cut: Cut) => {
    if (!result) return;
    setLive({ id: result.id, cut, style: (liveOf(result) ?? result).style });
  };
  const turn = () => {
    const cut = liveOf(result)?.cut ?? result?.cut;
    const turned = result && cut && canTurn(result) ? turnedRound(cut) : undefined;
    if (result && turned) saveNow(result, { cut: turned });
  };
  const act = async (wanted: LineAct) => {
    if (!section || !litCut) return;
    try {
      saveNow(section, { cut: await actOnLine(project.id, litCut, wanted) });
    } catch (error) {
      report(error);
    }
  };
  const { remove, removeMany } = useRemoval(project.id, current);
  useHotkeys("escape", () => useBench.getState().setClicking(null));
  useMeasureCommand(draft === null);
  const idle = result !== undefined && !draft;
  const group = "Drawing";
  useCommand({
    name: "Look the other way",
    group,
    keys: "f",
    enabled: idle && canTurn(result),
    run: turn,
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
    enabled: current !== undefined && !draft,
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
  useHotkeys("escape", () => useLook.getState().setBoxing(false));
  useAnnounced(project.id, current?.id);

  const pickedIn = drawings.find((d) => d.id === picked?.drawing);
  const drafted = draftCut(draft, settings);
  const offered = useBench((s) => s.offered);
  const offeredLive = offered && { cut: offered.proposal.cut, style: offered.proposal.style };
  const shown = liveOf(current) ?? current;
  const modelSpec = drafted ? { cut: drafted, style: settings.new_style } : (offeredLive ?? shown);
  const paneOf = (drawing: Drawing | undefined) => {
    const now = drawing && (liveOf(drawing) ?? drawing);
    return now && { drawing, cut: now.cut, scale: now.style.scale };
  };
  const stacked = desk.way === "stacked" || (desk.aligned && source?.cut.kind === "plan");
  const pair = useAlignedPair(paneOf(source), draft ? undefined : paneOf(result), stacked, desk.aligned);
  const { shownIn, calledIn } = useMarkersOf(project.id, source, result);
  const said = JSON.stringify(drawings.map((d) => [d.id, d.title]));
  const titles = useMemo(() => new Map<number, string>(JSON.parse(said)), [said]);
  const common = {
    project: project.id,
    drawings,
    titles,
    settings,
    storeys: project.facts.storeys,
    onChoose: (id: number) => choose(project.id, id),
    onBeside: (id: number) => showBeside(project.id, id),
  };
  const calloutsOf = useCallouts({
    drawings,
    current,
    onPlan: (result ?? source)?.cut.kind === "plan",
    enabled: source !== undefined && !draft,
    liveOf,
    calledIn,
    saveNow,
  });
  const sourcePane =
    source && source.cut.kind !== "plan" ? (
      <ResultPane
        {...common}
        name="Source"
        markers={shownIn(source)}
        called={calloutsOf(source)}
        drawing={source}
        live={liveOf(source)}
        shared={pair?.source}
        onCut={(cut) => setLive({ id: source.id, cut, style: (liveOf(source) ?? source).style })}
        onDrop={() => dropCut(source)}
        onSave={(change) => saveNow(source, change)}
      />
    ) : (
      source && (
        <SourcePane
          {...common}
          markers={shownIn(source)}
          called={calloutsOf(source)}
          plan={source}
          live={liveOf(source)}
          shared={pair?.source}
          sections={sections}
          lit={section}
          litMarker={litSpec?.style.marker}
          onHeads={(marker) => {
            if (!section || !litSpec) return;
            setLive({ id: section.id, cut: litSpec.cut, style: { ...litSpec.style, marker } });
          }}
          onHeadsDrop={() => {
            const now = useBench.getState().live;
            if (!section || now?.id !== section.id) return;
            const changed = { style: now.style };
            saveNow(section, changed);
          }}
          box={boxOf(current?.cut)}
          cropped={result === undefined && !draft}
          onPlanCut={(cut) => setLive({ id: source.id, cut, style: (liveOf(source) ?? source).style })}
          onPlanDrop={() => dropCut(source)}
          onPlanSave={(cut) => saveNow(source, { cut })}
          onStrip={(index, strip) => {
            const { cut, style } = liveOf(source) ?? source;
            const strips = style.strips.map((one, k) => (k === index ? strip : one));
            setLive({ id: source.id, cut, style: { ...style, strips } });
          }}
          onStripDrop={() => {
            const now = useBench.getState().live;
            if (now?.id === source.id) saveNow(source, { style: now.style });
          }}
          onRename={(name) => saveNow(source, { name })}
          litCut={litCut}
          tool={tool}
          onCut={showCut}
          onAct={act}
          onDrop={() => dropCut(result)}
        />
      )
    );
  const resultPane =
    drafted || offered || (result && !draft) ? (
      <ResultPane
        {...common}
        name="Result"
        markers={draft || offered ? [] : shownIn(result)}
        called={calloutsOf(draft || offered ? undefined : result)}
        drawing={draft || offered ? undefined : result}
        live={
          drafted && draft ? { cut: drafted, style: settings.new_style } : (offeredLive ?? liveOf(result))
        }
        offer={plan && <OfferedSection project={project.id} plan={plan.id} onMade={common.onChoose} />}
        shared={pair?.result}
        onCut={showCut}
        onDrop={() => dropCut(result)}
        onSave={(change) => result && saveNow(result, change)}
        onTurn={result && canTurn(result) ? turn : undefined}
      />
    ) : (
      <EmptyResult
        sections={sections.filter((s) => s.parent_id === plan?.id)}
        onStart={tool.start}
        onChoose={(d) => choose(project.id, d.id)}
      />
    );
  return (
    <div className="flex h-full min-h-0 flex-col">
      <AnnotateCommands enabled={draft === null} />
      <div className="flex min-h-0 flex-1">
        {!desk.folded.lineage && (
          <div className="w-60 shrink-0 border-r border-base-300">
            <Lineage
              project={project}
              settings={settings}
              drawings={drawings}
              chosen={current?.id}
              onChoose={(d) => choose(project.id, d.id)}
              onBeside={(d) => showBeside(project.id, d.id)}
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
              onChoose={(d) => choose(project.id, d.id)}
              onBack={() => showBeside(project.id, undefined)}
            />
            <DeskTools canAlign={pair !== null} drafting={draft !== null} />
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
                  spec={modelSpec}
                />
              )
            }
            alone={result && !draft && !offered ? "result" : "source"}
            stacked={stacked}
            onDropped={(pane, id) =>
              pane === "result" ? choose(project.id, id) : showBeside(project.id, id)
            }
          />
        </div>
        {!desk.folded.particulars && (
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
                picked={pickedIn}
                drawings={drawings}
                shownHere={shownIn(current)}
                onChoose={common.onChoose}
                onSavePicked={saveNow}
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
