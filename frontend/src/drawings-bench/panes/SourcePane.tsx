import { useMemo } from "react";
import type { Drawing, SectionCut } from "../../api/client";
import { useBench } from "../../desk/drawings-state";
import type { SharedAxis } from "../../drawing/aligned";
import { type Camera, toScreen } from "../../drawing/camera";
import { PaneCallouts } from "../callouts/PaneCallouts";
import { CuttingLineGrips, DepthBand } from "../cutting/CuttingLine";
import { HeadGrips } from "../cutting/HeadGrips";
import { line } from "../cutting/line-draft";
import { LINE_HINT } from "../cutting/line-tool";
import { MarkerLayer } from "../cutting/Markers";
import { dragged } from "../cutting/marker-geometry";
import { alongLine, onPaper } from "../cutting/plan-geometry";
import type { Bench } from "../desk/bench";
import { BoxOnPlan } from "../extents/BoxOnPlan";
import { ExtentsFrame } from "../extents/ExtentsFrame";
import { StripGrip } from "../extents/StripGrip";
import { DrawMenu } from "../lineage/DrawMenu";
import { type Pane, standingBack } from "../modes/tool";
import { useToolIn } from "../modes/tools";
import { DrawingPane } from "./DrawingPane";
import { usePane } from "./use-pane";

type Props = { bench: Bench; plan: Drawing; shared?: SharedAxis };
type Layer = { bench: Bench; pane: Pane; plan: Drawing; camera: Camera };

/** The plan on which sections are cut: markers, the lit line with its grips, and the line being drawn. */
export function SourcePane({ bench, plan, shared }: Props) {
  const drafting = line.useHeld() !== null;
  // the extents of the plan are moved where it is the chosen drawing itself
  const chosen = bench.current?.id === plan.id;
  const { pane, shown } = usePane({ bench, side: "source", drawing: plan, croppable: chosen && !drafting });
  const inHand = useToolIn(pane);
  const markers = useShownMarkers(bench, pane, plan);
  const { titles, settings, choose, beside, lit } = bench;
  const { scale, view } = pane;
  const back = standingBack(inHand);
  const box = bench.boxOf(bench.current?.cut);
  return (
    <DrawingPane
      {...{ pane, shown, inHand, shared }}
      name="Source"
      tools={<DrawMenu busy={drafting} />}
      hint={LINE_HINT}
    >
      {(camera) => (
        <>
          {lit && !drafting && <DepthBand camera={camera} scale={scale} cut={lit.cut} />}
          <MarkerLayer
            {...{ camera, scale, titles, markers, ...back }}
            lit={lit?.drawing.id}
            form={settings.marker}
            onChoose={choose}
            onBeside={beside}
          />
          {view && !drafting && (
            <PaneCallouts
              {...{ camera, scale, view, titles, settings }}
              {...back}
              onChoose={choose}
              onBeside={beside}
              {...bench.calloutsOf(plan)}
            />
          )}
          {!drafting && <LitLine {...{ bench, pane, plan, camera }} markers={markers} />}
          {box && !drafting && <BoxOnPlan shared={box} camera={camera} scale={scale} />}
          {pane.croppable && <Strips {...{ bench, pane, plan, camera }} />}
          {pane.croppable && view && (
            <ExtentsFrame
              drawing={plan.id}
              camera={camera}
              frame={view.window}
              scale={scale}
              extents={pane.spec.cut.extents ?? {}}
              onChange={(extents) =>
                bench.show(plan, { cut: { ...pane.spec.cut, extents } as Drawing["cut"] })
              }
              onDrop={() => bench.drop(plan, "cut")}
            />
          )}
        </>
      )}
    </DrawingPane>
  );
}

/** The markers of a plan: what is being dragged is ahead of what is saved. */
function useShownMarkers({ markersOf, lit }: Bench, { view, scale }: Pane, plan: Drawing) {
  const markers = markersOf(plan);
  const [id, cut, look] = [lit?.drawing.id, lit?.cut, lit?.style.marker];
  return useMemo(
    () =>
      cut
        ? markers.map((m) =>
            m.drawing === id ? { ...dragged(m, cut, view?.window, scale), style: look ?? m.style } : m,
          )
        : markers,
    [markers, id, cut, look, view, scale],
  );
}

/** The grips of the line of the chosen section: its ends and corners, its depth, its heads. */
function LitLine({ bench, pane, camera, markers }: Layer & { markers: ReturnType<typeof useShownMarkers> }) {
  const { lit, settings } = bench;
  if (!lit) return null;
  const { drawing, cut, style } = lit;
  const { scale } = pane;
  const pieces = markers.find((m) => m.drawing === drawing.id)?.pieces ?? [];
  return (
    <>
      <CuttingLineGrips
        {...{ camera, scale, cut, pieces }}
        snapper={pane.snapper}
        onChange={(next) => bench.show(drawing, { cut: next })}
        onDrop={() => bench.drop(drawing, "cut")}
      />
      {style.marker && (
        <HeadGrips
          {...{ camera, scale, pieces }}
          look={cut.look}
          marker={style.marker}
          form={settings.marker}
          onChange={(marker) => bench.show(drawing, { style: { ...style, marker } })}
          onDrop={() => bench.drop(drawing, "style")}
        />
      )}
      <PointedPlace camera={camera} scale={scale} cut={cut} />
    </>
  );
}

/** The strips that are inset in a plan, to be moved. */
function Strips({ bench, pane, plan, camera }: Layer) {
  const { scale } = pane;
  const { style } = pane.spec;
  return style.strips?.map((strip, index) => {
    const section = bench.drawings.find((d) => d.id === strip.drawing)?.cut;
    if (section?.kind !== "section") return null;
    return (
      <StripGrip
        key={String(index)}
        {...{ camera, scale, strip, section }}
        number={index + 1}
        onChange={(moved) => {
          const strips = style.strips?.map((one, k) => (k === index ? moved : one));
          bench.show(plan, { style: { ...style, strips } });
        }}
        onDrop={() => bench.drop(plan, "style")}
      />
    );
  });
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
