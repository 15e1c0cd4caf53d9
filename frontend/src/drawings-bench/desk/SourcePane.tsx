import { useMemo } from "react";
import { AnnotateToggle, AnnotateTools } from "../../annotating/AnnotateTools";
import { AnnotationCanvas } from "../../annotating/AnnotationCanvas";
import { PaneAnnotations } from "../../annotating/PaneAnnotations";
import { TextEditor } from "../../annotating/TextEditor";
import { ToolFoot } from "../../annotating/ToolFoot";
import { useAnnotating } from "../../annotating/use-annotating";
import type {
  Cut,
  Drawing,
  InsetStrip,
  Marker,
  Project,
  SectionCut,
  Settings,
  SharedExtents,
  Style,
} from "../../api/client";
import { type LineAct, usePlaces } from "../../api/cut-help";
import { useStandards } from "../../api/queries";
import { useComparison } from "../../api/revisions";
import { type Place, useBench } from "../../desk/drawings-state";
import type { SharedAxis } from "../../drawing/aligned";
import { type Camera, toScreen } from "../../drawing/camera";
import { DrawingCanvas, type PaperPointer } from "../../drawing/DrawingCanvas";
import { type Live, useView } from "../../drawing/use-view";
import { useLengths } from "../../fields/lengths";
import { useCompare } from "../../revisions/compare-state";
import { CallingBar } from "../callouts/CallingBar";
import { type CalloutProps, PaneCallouts } from "../callouts/PaneCallouts";
import { useCalling } from "../callouts/use-calling";
import { CuttingLineGrips, DepthBand, SNAP_REACH } from "../cutting/CuttingLine";
import { HeadGrips } from "../cutting/HeadGrips";
import { dragged, MarkerLayer } from "../cutting/Markers";
import { MeasureLines, MeasureWords, useMeasure } from "../cutting/Measure";
import { alongLine, distance, onModel, onPaper } from "../cutting/plan-geometry";
import { SnapMark } from "../cutting/SnapMark";
import { Snapper } from "../cutting/snaps";
import { CLICK_HINTS, useClicks } from "../cutting/use-clicks";
import { useGhost } from "../cutting/use-ghost";
import { draftCut, type useLineTool } from "../cutting/use-line-tool";
import { BoxOnPlan } from "../extents/BoxOnPlan";
import { ExtentsFrame, useCorners } from "../extents/ExtentsFrame";
import { StripGrip } from "../extents/StripGrip";
import { useBreaks } from "../extents/use-breaks";
import { DrawMenu } from "../lineage/DrawMenu";
import { PickedLines } from "../picking/PickedLines";
import { usePick } from "../picking/use-pick";
import { hidesMore, NothingHere } from "./NothingHere";
import { PaneFoot, PaneHead } from "./PaneFrame";

type Props = {
  project: number;
  plan: Drawing;
  live: Live | undefined;
  shared?: SharedAxis;
  sections: Drawing[];
  markers: Marker[];
  called: CalloutProps;
  drawings: Drawing[];
  titles: Map<number, string>;
  lit: Drawing | undefined;
  litCut: SectionCut | undefined;
  /** How the lit marker looks, changed while its heads are dragged. */
  litMarker: Style["marker"] | undefined;
  onHeads: (marker: Style["marker"]) => void;
  onHeadsDrop: () => void;
  /** The shared extents that the chosen drawing follows. */
  box: SharedExtents | undefined;
  /** Whether the plan itself is the chosen drawing, whose extents can be moved. */
  cropped: boolean;
  onPlanCut: (cut: Cut) => void;
  onPlanDrop: () => void;
  onPlanSave: (cut: Cut) => void;
  onStrip: (index: number, strip: InsetStrip) => void;
  onStripDrop: () => void;
  onRename: (name: string) => void;
  settings: Settings;
  storeys: Project["facts"]["storeys"];
  tool: ReturnType<typeof useLineTool>;
  onChoose: (drawing: number) => void;
  onBeside: (drawing: number) => void;
  onCut: (cut: SectionCut) => void;
  /** An act on the lit line, which is saved. */
  onAct: (act: LineAct) => void;
  onDrop: () => void;
};

/** The plan on which sections are cut: markers, the lit line with its grips, and the line being drawn. */
export function SourcePane({
  project,
  plan,
  live,
  shared,
  sections,
  markers,
  called,
  drawings,
  titles,
  lit,
  litCut,
  litMarker,
  onHeads,
  onHeadsDrop,
  box,
  cropped,
  onPlanCut,
  onPlanDrop,
  onPlanSave,
  onStrip,
  onStripDrop,
  onRename,
  settings,
  storeys,
  tool,
  onChoose,
  onBeside,
  onCut,
  onAct,
  onDrop,
}: Props) {
  const shown = useView(project, plan, live);
  const { earlier, alone } = useCompare();
  const compared = useComparison(live ? undefined : plan, earlier ?? undefined, alone);
  const view = (earlier !== null && !live && compared.data) || shown.view;
  const { busy, problem } = shown;
  const scale = (live ?? plan).style.scale;
  const { draft } = tool;
  const pick = usePick(project, plan, live ?? plan);
  const ghost = useGhost(project, live ?? plan);
  // what is being dragged is ahead of what is saved
  const shownMarkers = useMemo(
    () =>
      litCut && lit
        ? markers.map((m) =>
            m.drawing === lit.id
              ? { ...dragged(m, litCut, view?.window, scale), style: litMarker ?? m.style }
              : m,
          )
        : markers,
    [markers, lit, litCut, litMarker, view, scale],
  );
  const litPieces = shownMarkers.find((m) => m.drawing === lit?.id)?.pieces ?? [];
  const { clicking, setClicking } = useBench();
  const measure = useBench((s) => s.measure);
  const measuring = useMeasure(plan.id, view, scale);
  const clicks = useClicks(project, settings, onChoose);
  const calling = useCalling(project, plan, scale, onChoose);
  const cut = (live ?? plan).cut;
  const breaks = useBreaks(plan.id, scale, cut, view, onPlanSave);
  const corners = useCorners(plan.id, scale, cut, onPlanSave);
  const alignTo = ({ paper, zoom }: PaperPointer) => {
    const reach = (SNAP_REACH / zoom) * (scale / 1000);
    const direction = snapper.direction(onModel(paper, scale), reach);
    if (!direction) return;
    setClicking(null);
    onAct({ kind: "align", direction });
  };
  const strips = (live ?? plan).style.strips.flatMap((strip, index) => {
    const section = drawings.find((d) => d.id === strip.drawing)?.cut;
    return section?.kind === "section" ? [{ strip, index, section }] : [];
  });
  const { data: places } = usePlaces(project);
  const annotating = useAnnotating(project, plan, view, scale);
  const { data: standards = [] } = useStandards(project);
  const standard = standards.find((s) => s.key === (live ?? plan).style.standard);
  const busyElsewhere = draft !== null || clicking !== null || measure !== null || calling.active;
  const click = (p: PaperPointer) => {
    if (annotating.active) annotating.onClick(p);
    else if (measure) measuring.onClick(p);
    else if (calling.active) calling.onClick(p);
    else if (breaks.active) {
      if (cropped) breaks.onClick(p);
    } else if (clicking === "corners") {
      if (cropped) corners.onClick(p);
    } else if (clicking === "face") alignTo(p);
    else if (clicking === "wall") clicks.wall(onModel(p.paper, scale), "left");
    else if (clicking === "thing")
      clicks.thing(plan.id, places, onModel(p.paper, scale), height(plan, storeys));
    else if (clicking === "room") clicks.room(places, onModel(p.paper, scale), height(plan, storeys));
    else if (draft) tool.onClick(p, snapper);
    else if (!annotating.choose(p)) pick.onClick(p);
  };
  const snapper = useMemo(() => {
    const others = sections.filter((d) => d.id !== lit?.id);
    const lines = others.map((d) => ({ word: d.title, line: (d.cut as SectionCut).line as Place[] }));
    return new Snapper(view, places, lines);
  }, [view, places, sections, lit?.id]);
  return (
    <section className="flex h-full flex-col" aria-label="Source">
      <PaneHead title={plan.title} drawing={plan} onRename={onRename} {...{ scale, busy }}>
        <AnnotateToggle drawing={plan.id} />
        <DrawMenu busy={draft !== null || clicking !== null} onStart={tool.start} />
      </PaneHead>
      <div className="flex min-h-0 flex-1">
        <AnnotateTools drawing={plan.id} />
        <div className="relative min-w-0 flex-1">
          <DrawingCanvas
            name={`Source: ${plan.title}`}
            cameraKey={`drawing ${plan.id}`}
            view={view}
            shared={shared}
            cursor={busyElsewhere || annotating.active ? "crosshair" : undefined}
            ghost={ghost}
            onClick={click}
            onBox={
              busyElsewhere
                ? undefined
                : (from, to) => {
                    if (!annotating.onBox(from, to)) pick.onBox(from, to);
                  }
            }
            onDoubleClick={(p) => void annotating.onDoubleClick(p)}
            page={annotating.page}
            layer={(camera) => <AnnotationCanvas shapes={annotating.shapes} camera={camera} />}
            over={(camera) => (
              <TextEditor
                project={project}
                drawing={plan}
                camera={camera}
                scale={scale}
                standard={standard}
              />
            )}
            onMove={(p) => {
              if (annotating.active) annotating.onMove(p);
              else if (measure) measuring.onMove(p);
              else if (calling.active) calling.onMove(p);
              else tool.onMove(p, snapper);
            }}
          >
            {(camera) => (
              <g>
                {litCut && !draft && <DepthBand camera={camera} scale={scale} cut={litCut} />}
                <MarkerLayer
                  passive={draft !== null || clicking !== null || measure !== null}
                  {...{ camera, scale, titles }}
                  markers={shownMarkers}
                  lit={lit?.id}
                  form={settings.marker}
                  onChoose={onChoose}
                  onBeside={onBeside}
                />
                {view && !draft && (
                  <PaneCallouts
                    {...{ camera, scale, view, titles, settings, onChoose, onBeside }}
                    drawing={plan}
                    {...called}
                  />
                )}
                {litCut && !draft && (
                  <CuttingLineGrips
                    camera={camera}
                    scale={scale}
                    cut={litCut}
                    pieces={litPieces}
                    snapper={snapper}
                    onChange={onCut}
                    onDrop={onDrop}
                  />
                )}
                {litCut && litMarker && !draft && (
                  <HeadGrips
                    camera={camera}
                    scale={scale}
                    look={litCut.look}
                    marker={litMarker}
                    pieces={litPieces}
                    form={settings.marker}
                    onChange={onHeads}
                    onDrop={onHeadsDrop}
                  />
                )}
                {litCut && !draft && <PointedPlace camera={camera} scale={scale} cut={litCut} />}
                {box && !draft && <BoxOnPlan shared={box} camera={camera} scale={scale} />}
                {cropped &&
                  strips.map(({ strip, index, section }) => (
                    <StripGrip
                      key={index}
                      camera={camera}
                      number={index + 1}
                      scale={scale}
                      strip={strip}
                      section={section}
                      onChange={(moved) => onStrip(index, moved)}
                      onDrop={onStripDrop}
                    />
                  ))}
                {cropped && view && (
                  <ExtentsFrame
                    drawing={plan.id}
                    camera={camera}
                    frame={view.window}
                    scale={scale}
                    extents={cut.extents ?? {}}
                    onChange={(extents) => onPlanCut({ ...cut, extents })}
                    onDrop={onPlanDrop}
                  />
                )}
                <PickedLines drawing={plan.id} camera={camera} scale={scale} />
                {view && !draft && <PaneAnnotations {...{ project, camera, scale, view, annotating }} />}
                <MeasureLines drawing={plan.id} camera={camera} scale={scale} />
                {(!measure || measure.drawing === plan.id) && <SnapMark camera={camera} scale={scale} />}
                {draft && <DraftLine camera={camera} scale={scale} tool={tool} settings={settings} />}
              </g>
            )}
          </DrawingCanvas>
          {view?.empty && <NothingHere cut={cut} hides={hidesMore(cut, settings)} onShow={onPlanSave} />}
        </div>
      </div>
      <PaneFoot problem={problem} findings={view?.findings}>
        {annotating.active ? (
          <ToolFoot project={project} standard={standard} />
        ) : measure ? (
          <MeasureWords drawing={plan.id} />
        ) : calling.active ? (
          <CallingBar drawings={drawings.filter((d) => d.id !== plan.id)} />
        ) : clicking ? (
          CLICK_HINTS[clicking]
        ) : (
          tool.hint
        )}
        {tool.typed && <span className="figures ml-2 rounded bg-base-300 px-1">{tool.typed}</span>}
      </PaneFoot>
    </section>
  );
}

/** The height at which a plan is cut, metres. */
function height(plan: Drawing, storeys: Props["storeys"]): number {
  if (plan.cut.kind !== "plan") return 0;
  const { storey, height: above } = plan.cut;
  return (storeys.find((s) => s.guid === storey)?.elevation ?? 0) + (above ?? 0);
}

/** Where on the line, or beside it, the pointer is in the cut report. */
function PointedPlace({ camera, scale, cut }: { camera: Camera; scale: number; cut: SectionCut }) {
  const pointed = useBench((s) => s.pointed);
  if (!pointed) return null;
  const screen = (along: number, off = 0) => toScreen(camera, onPaper(alongLine(cut, along, off), scale));
  const [a, b] = [screen(pointed.start), screen(pointed.end, pointed.off)];
  return (
    <g data-pointed="source" stroke="var(--ink-cut)" pointerEvents="none">
      <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} strokeWidth={6} strokeOpacity={0.45} />
      {pointed.off !== undefined && <circle cx={b.x} cy={b.y} r={7} fill="none" strokeWidth={2} />}
    </g>
  );
}

function DraftLine({
  camera,
  scale,
  tool,
  settings,
}: {
  camera: Camera;
  scale: number;
  tool: ReturnType<typeof useLineTool>;
  settings: Settings;
}) {
  const { draft, pointer } = tool;
  const { say } = useLengths();
  if (!draft || draft.stage === "first") return null;
  const end = draft.stage === "second" ? pointer : draft.b;
  if (!end) return null;
  const a = toScreen(camera, onPaper(draft.a, scale));
  const b = toScreen(camera, onPaper(end, scale));
  const cut = draftCut(draft, settings);
  const words = draft.stage === "second" ? say(distance(draft.a, end)) : `deep ${say(draft.depth)}`;
  return (
    <g pointerEvents="none">
      {cut && <DepthBand camera={camera} scale={scale} cut={cut} />}
      <line
        x1={a.x}
        y1={a.y}
        x2={b.x}
        y2={b.y}
        stroke="var(--ink-cut)"
        strokeWidth={2}
        strokeDasharray="14 4 2 4"
      />
      <circle cx={a.x} cy={a.y} r={4} fill="var(--ink-cut)" />
      <circle cx={b.x} cy={b.y} r={4} fill="var(--ink-cut)" />
      <text x={b.x + 10} y={b.y - 10} fontSize={12} className="figures" fill="var(--ink-cut)">
        {words}
      </text>
    </g>
  );
}
