import { FlipHorizontal2, Scissors } from "lucide-react";
import type { ReactNode } from "react";
import { AnnotateToggle, AnnotateTools } from "../../annotating/AnnotateTools";
import { AnnotationCanvas } from "../../annotating/AnnotationCanvas";
import { PaneAnnotations } from "../../annotating/PaneAnnotations";
import { TextEditor } from "../../annotating/TextEditor";
import { ToolFoot } from "../../annotating/ToolFoot";
import { useAnnotating } from "../../annotating/use-annotating";
import type { Cut, Drawing, Marker, Project, Settings } from "../../api/client";
import { useStandards } from "../../api/queries";
import { useComparison } from "../../api/revisions";
import { useBench } from "../../desk/drawings-state";
import type { SharedAxis } from "../../drawing/aligned";
import { type Camera, toScreen } from "../../drawing/camera";
import { DrawingCanvas, type PaperPointer } from "../../drawing/DrawingCanvas";
import type { Frame } from "../../drawing/screen-form";
import { type Live, useView } from "../../drawing/use-view";
import { useCompare } from "../../revisions/compare-state";
import { useCommand } from "../../shell/commands";
import { CallingBar } from "../callouts/CallingBar";
import { type CalloutProps, PaneCallouts } from "../callouts/PaneCallouts";
import { useCalling } from "../callouts/use-calling";
import { MarkerLayer } from "../cutting/Markers";
import { MeasureLines, MeasureWords, useMeasure } from "../cutting/Measure";
import { OfferedRegions } from "../cutting/OfferedSection";
import { SnapMark } from "../cutting/SnapMark";
import { CLICK_HINTS, useClicks } from "../cutting/use-clicks";
import { useGhost } from "../cutting/use-ghost";
import { ExtentsFrame, useCorners } from "../extents/ExtentsFrame";
import { useBreaks } from "../extents/use-breaks";
import { PickedLines } from "../picking/PickedLines";
import { usePick } from "../picking/use-pick";
import { hidesMore, NothingHere } from "./NothingHere";
import { PaneFoot, PaneHead } from "./PaneFrame";

type Props = {
  name: "Source" | "Result";
  project: number;
  /** The saved section, or nothing while its line is still being drawn. */
  drawing: Drawing | undefined;
  live: Live | undefined;
  shared?: SharedAxis;
  markers: Marker[];
  called: CalloutProps;
  drawings: Drawing[];
  titles: Map<number, string>;
  settings: Settings;
  storeys: Project["facts"]["storeys"];
  onChoose: (drawing: number) => void;
  onBeside: (drawing: number) => void;
  onCut: (cut: Cut) => void;
  onDrop: () => void;
  onSave: (change: { cut?: Cut; name?: string }) => void;
  onTurn?: () => void;
  /** What stands over a drawing that is offered. */
  offer?: ReactNode;
};

/** The section that the cut gives, with the edges of its extents to drag. */
export function ResultPane({ name, project, drawing, live, shared, markers, ...props }: Props) {
  const { titles, settings, storeys, onChoose, onBeside, onCut, onDrop, onSave, onTurn } = props;
  const { called, drawings } = props;
  const shown = useView(project, drawing, live);
  const { earlier, alone } = useCompare();
  const compared = useComparison(live ? undefined : drawing, earlier ?? undefined, alone);
  const view = (earlier !== null && !live && compared.data) || shown.view;
  const { busy, problem } = shown;
  const spec = live ?? drawing;
  const ghost = useGhost(project, spec);
  const pick = usePick(project, drawing, spec ?? { style: settings.new_style, cut: settings.new_section });
  const { clicking, setClicking } = useBench();
  const measure = useBench((s) => s.measure);
  const measuring = useMeasure(drawing?.id ?? 0, view, spec?.style.scale ?? 1);
  const clicks = useClicks(project, settings, onChoose);
  const scale = spec?.style.scale ?? 1;
  const calling = useCalling(project, drawing, scale, onChoose);
  const annotating = useAnnotating(project, drawing, view, scale);
  const { data: standards = [] } = useStandards(project);
  const standard = standards.find((s) => s.key === spec?.style.standard);
  const breaks = useBreaks(drawing?.id, spec?.style.scale ?? 1, spec?.cut, view, (cut) => onSave({ cut }));
  const corners = useCorners(drawing?.id, spec?.style.scale ?? 1, spec?.cut, (cut) => onSave({ cut }));
  const upright =
    spec !== undefined && spec.cut.kind !== "plan" && spec.cut.kind !== "plane" && spec.cut.kind !== "blank";
  useCommand({
    name: "Plan of a level that is clicked",
    group: "Drawing",
    keys: "p",
    enabled: upright && drawing !== undefined,
    run: () => setClicking("level"),
  });
  if (!spec) return null;
  const { cut } = spec;
  const plan = ({ paper }: PaperPointer) => {
    const height = (paper.y * spec.style.scale) / 1000;
    const away = (s: { elevation: number }) => Math.abs(s.elevation - height);
    const nearest = [...storeys].sort((a, b) => away(a) - away(b))[0];
    if (nearest) clicks.level(nearest.guid);
  };
  const blank = cut.kind === "blank";
  const hides = drawing !== undefined && hidesMore(cut, settings);
  const foot =
    view?.empty && !blank
      ? NOTHING[hides ? "hidden" : drawing?.callout ? "region" : "clear"]
      : hintOf(drawing, called);
  return (
    <section className="flex h-full flex-col" aria-label={name}>
      <PaneHead
        title={drawing?.title ?? "New section"}
        scale={spec.style.scale}
        busy={busy}
        drawing={drawing}
        onRename={(name) => onSave({ name })}
      >
        {drawing && <AnnotateToggle drawing={drawing.id} />}
        {drawing && onTurn && (
          <button
            type="button"
            className="btn btn-ghost btn-xs"
            onClick={onTurn}
            title="Look the other way (F)"
          >
            <FlipHorizontal2 size={13} /> Turn round
          </button>
        )}
      </PaneHead>
      {!drawing && props.offer}
      <div className="flex min-h-0 flex-1">
        {drawing && <AnnotateTools drawing={drawing.id} />}
        <div className="relative min-w-0 flex-1">
          <DrawingCanvas
            name={`${name}: ${drawing?.title ?? "New section"}`}
            cameraKey={drawing ? `drawing ${drawing.id}` : "new section"}
            view={view}
            ghost={ghost}
            shared={shared}
            cursor={
              annotating.active || calling.active || clicking === "level" || clicking === "corners" || measure
                ? "crosshair"
                : undefined
            }
            page={annotating.page}
            layer={(camera) => <AnnotationCanvas shapes={annotating.shapes} camera={camera} />}
            over={(camera) =>
              drawing && (
                <TextEditor
                  project={project}
                  drawing={drawing}
                  camera={camera}
                  scale={scale}
                  standard={standard}
                />
              )
            }
            onDoubleClick={(p) => void annotating.onDoubleClick(p)}
            onClick={
              drawing &&
              ((p) => {
                if (annotating.active) annotating.onClick(p);
                else if (measure) measuring.onClick(p);
                else if (calling.active) calling.onClick(p);
                else if (breaks.active && name === "Result") breaks.onClick(p);
                else if (clicking === "corners" && name === "Result") corners.onClick(p);
                else if (clicking === "level") plan(p);
                else if (!annotating.choose(p)) pick.onClick(p);
              })
            }
            onMove={(p) => {
              if (annotating.active) annotating.onMove(p);
              else if (calling.active) calling.onMove(p);
              else measuring.onMove(p);
            }}
            onBox={
              calling.active || clicking || measure || !drawing
                ? undefined
                : (from, to) => {
                    if (!annotating.onBox(from, to)) pick.onBox(from, to);
                  }
            }
          >
            {(camera) =>
              view && drawing ? (
                <>
                  {cut.kind === "section" && (
                    <PointedStretch camera={camera} scale={view.scale} frame={view.window} />
                  )}
                  <MeasureLines drawing={drawing.id} camera={camera} scale={view.scale} />
                  {measure?.drawing === drawing.id && <SnapMark camera={camera} scale={view.scale} />}
                  <PickedLines drawing={drawing.id} camera={camera} scale={view.scale} />
                  <MarkerLayer
                    {...{ camera, markers, titles, onChoose, onBeside }}
                    scale={view.scale}
                    form={settings.marker}
                  />
                  <PaneCallouts
                    {...{ drawing, camera, view, titles, settings, onChoose, onBeside }}
                    scale={view.scale}
                    {...called}
                  />
                  <PaneAnnotations {...{ project, camera, view, annotating }} scale={view.scale} />
                  <ExtentsFrame
                    drawing={drawing.id}
                    camera={camera}
                    frame={view.window}
                    scale={view.scale}
                    extents={cut.extents ?? {}}
                    levels={upright ? storeys : undefined}
                    onChange={(extents) => onCut({ ...cut, extents } as Cut)}
                    onDrop={onDrop}
                  />
                </>
              ) : (
                view && <OfferedRegions camera={camera} scale={view.scale} />
              )
            }
          </DrawingCanvas>
          {view?.empty && !blank && (
            <NothingHere cut={cut} hides={hides} onShow={(all) => onSave({ cut: all })} />
          )}
        </div>
      </div>
      <PaneFoot problem={problem} findings={view?.findings}>
        {annotating.active ? (
          <ToolFoot project={project} standard={standard} />
        ) : measure && drawing ? (
          <MeasureWords drawing={drawing.id} />
        ) : calling.active ? (
          <CallingBar drawings={drawings.filter((d) => d.id !== drawing?.id)} />
        ) : clicking === "level" || clicking === "corners" || clicking === "break" ? (
          CLICK_HINTS[clicking]
        ) : (
          foot
        )}
      </PaneFoot>
    </section>
  );
}

const NOTHING = {
  region: "Nothing of the model lies in this region; drag it to where something is.",
  hidden: "Nothing shows: what is here may be hidden by this drawing or its shown set.",
  clear:
    "The cut meets nothing: the line or its extents lie clear of the building. Drag the line on the plan.",
};

/** What can be done next with a drawing. */
function hintOf(drawing: Drawing | undefined, { called }: CalloutProps): string {
  if (!drawing) return "";
  if (called) return "Drag the plum corners or the middle of the region, and its callout follows.";
  if (drawing.callout)
    return "This callout follows its drawing; drag its region there, or the ochre edges here.";
  if (drawing.cut.kind === "section")
    return "Drag the line on the plan and this section follows; drag the ochre edges to crop it.";
  return "Drag the ochre edges to crop this drawing.";
}

/** The stretch of the drawing that the pointer is on in the cut report. */
function PointedStretch({ camera, scale, frame }: { camera: Camera; scale: number; frame: Frame }) {
  const pointed = useBench((s) => s.pointed);
  if (!pointed) return null;
  const paper = (metres: number) => (metres * 1000) / scale;
  const half = pointed.start === pointed.end ? 2 / camera.zoom : 0;
  const a = toScreen(camera, {
    x: paper(pointed.start) - half,
    y: pointed.top === undefined ? frame[3] : paper(pointed.top),
  });
  const b = toScreen(camera, {
    x: paper(pointed.end) + half,
    y: pointed.base === undefined ? frame[1] : paper(pointed.base),
  });
  return (
    <rect
      data-pointed="result"
      x={a.x}
      y={a.y}
      width={Math.max(2, b.x - a.x)}
      height={Math.max(2, b.y - a.y)}
      fill="var(--ink-cut)"
      fillOpacity={0.16}
      stroke="var(--ink-cut)"
      pointerEvents="none"
    />
  );
}

/** What stands at the right before there is a section: what to do first. */
export function EmptyResult({
  sections,
  onStart,
  onChoose,
}: {
  sections: Drawing[];
  onStart: () => void;
  onChoose: (drawing: Drawing) => void;
}) {
  return (
    <section className="flex h-full flex-col" aria-label="Result">
      <PaneHead title="Section" />
      <div className="film flex flex-1 flex-col items-center justify-center gap-4 p-6 text-center text-[#22302b]">
        <svg viewBox="0 0 220 110" className="w-56" aria-hidden="true">
          <g fill="none" stroke="#22302b" strokeWidth="1.4">
            <rect x="14" y="26" width="76" height="58" />
            <path d="M14 56h30M58 56h32M52 26v20" />
            <path d="M132 84V52l38-18 38 14v36z" />
            <path d="M132 62h76M164 62v22" />
          </g>
          <path d="M38 12v88" stroke="var(--ink-cut)" strokeWidth="2.4" strokeDasharray="12 3 2 3" />
          <path d="M38 26h18v58H38z" fill="var(--ink-depth)" opacity=".16" />
          <path d="M98 56h22m-7-6 7 6-7 6" fill="none" stroke="var(--ink-cut)" strokeWidth="2" />
        </svg>
        <div className="max-w-72">
          <p className="text-base font-semibold">Cut your first look inside</p>
          <p className="mt-1 text-sm opacity-80">
            Draw a line across the plan: click, click, then move to the side you want to see and click again.
            The section appears here while you move.
          </p>
        </div>
        <button type="button" className="btn btn-primary btn-sm" onClick={() => onStart()}>
          <Scissors size={14} /> Draw a cutting line <kbd className="kbd kbd-xs text-base-content">C</kbd>
        </button>
        {sections.length > 0 && (
          <div className="flex flex-wrap justify-center gap-2 text-sm">
            {sections.map((s) => (
              <button key={s.id} type="button" className="link" onClick={() => onChoose(s)}>
                {s.title}
              </button>
            ))}
          </div>
        )}
      </div>
      <PaneFoot>Or choose a section in the lineage.</PaneFoot>
    </section>
  );
}
