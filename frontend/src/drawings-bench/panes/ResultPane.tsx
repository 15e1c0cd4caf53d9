import { FlipHorizontal2 } from "lucide-react";
import type { ReactNode } from "react";
import type { Cut, Drawing } from "../../api/client";
import { useBench } from "../../desk/drawings-state";
import type { SharedAxis } from "../../drawing/aligned";
import { type Camera, toScreen } from "../../drawing/camera";
import type { Frame } from "../../drawing/screen-form";
import type { Live } from "../../drawing/use-view";
import { useCommand } from "../../shell/commands";
import { PaneCallouts } from "../callouts/PaneCallouts";
import { MarkerLayer } from "../cutting/Markers";
import { OfferedRegions } from "../cutting/OfferedSection";
import { PlanHeights } from "../cutting/PlanHeights";
import type { Bench } from "../desk/bench";
import { ExtentsFrame } from "../extents/ExtentsFrame";
import { useGroundCommand } from "../ground/ground-tool";
import { clickLevel, isUpright } from "../lineage/click-tools";
import { type Pane, standingBack } from "../modes/tool";
import { useToolIn } from "../modes/tools";
import { DrawingPane } from "./DrawingPane";
import { hidesMore } from "./NothingHere";
import { usePane } from "./use-pane";

type Props = {
  bench: Bench;
  name: "Source" | "Result";
  /** The saved drawing, or nothing while its line is still being drawn. */
  drawing: Drawing | undefined;
  drawn?: Live;
  shared?: SharedAxis;
  /** What stands over a drawing that is offered. */
  offer?: ReactNode;
};

/** The section that the cut gives, with the edges of its extents to drag. */
export function ResultPane({ bench, name, drawing, drawn, shared, offer }: Props) {
  const { pane, shown } = usePane({ bench, side: "result", drawing, drawn, croppable: name === "Result" });
  const inHand = useToolIn(pane);
  useGroundCommand(drawing !== undefined && isUpright(pane));
  useCommand({
    name: "Plan of a level that is clicked",
    group: "Drawing",
    keys: "p",
    enabled: drawing !== undefined && isUpright(pane),
    run: () => clickLevel.set({}),
  });
  if (!drawing && !drawn) return null;
  const { view } = pane;
  const turn = drawing && name === "Result" ? bench.turn(drawing) : undefined;
  return (
    <DrawingPane
      {...{ name, pane, shown, inHand, shared, offer }}
      hint={nextOf(pane, bench)}
      tools={
        turn && (
          <button
            type="button"
            className="btn btn-ghost btn-xs"
            onClick={turn}
            title="Look the other way (F)"
          >
            <FlipHorizontal2 size={13} /> Turn round
          </button>
        )
      }
    >
      {(camera) =>
        view && drawing ? (
          <Saved {...{ bench, pane, drawing, camera }} back={standingBack(inHand)} />
        ) : (
          view && <OfferedRegions camera={camera} scale={view.scale} />
        )
      }
    </DrawingPane>
  );
}

type SavedProps = {
  bench: Bench;
  pane: Pane;
  drawing: Drawing;
  camera: Camera;
  back: ReturnType<typeof standingBack>;
};

/** Over a saved drawing: its markers and callouts, and the frame of its extents. */
function Saved({ bench, pane, drawing, camera, back }: SavedProps) {
  const { titles, settings, project, choose, beside } = bench;
  const { view } = pane;
  const { cut } = pane.spec;
  if (!view) return null;
  const { scale } = view;
  return (
    <>
      {cut.kind === "section" && <PointedStretch camera={camera} scale={scale} frame={view.window} />}
      <MarkerLayer
        {...{ camera, titles, scale, ...back }}
        markers={bench.markersOf(drawing)}
        form={settings.marker}
        onChoose={choose}
        onBeside={beside}
      />
      <PaneCallouts
        {...{ camera, scale, view, titles, settings, ...back }}
        onChoose={choose}
        onBeside={beside}
        {...bench.calloutsOf(drawing)}
      />
      {isUpright(pane) && <PlanHeights {...{ bench, camera, scale }} frame={view.window} />}
      <ExtentsFrame
        drawing={drawing.id}
        camera={camera}
        frame={view.window}
        scale={scale}
        extents={cut.extents ?? {}}
        levels={isUpright(pane) ? project.facts.storeys : undefined}
        onChange={(extents) => bench.show(drawing, { cut: { ...cut, extents } as Cut })}
        onDrop={() => bench.drop(drawing, "cut")}
      />
    </>
  );
}

const NOTHING = {
  region: "Nothing of the model lies in this region; drag it to where something is.",
  hidden: "Nothing shows: what is here may be hidden by this drawing or its shown set.",
  clear:
    "The cut meets nothing: the line or its extents lie clear of the building. Drag the line on the plan.",
};

/** What can be done next with a drawing. */
function nextOf({ drawing, view, spec, settings }: Pane, bench: Bench): string {
  if (view?.empty && spec.cut.kind !== "blank")
    return NOTHING[
      drawing && hidesMore(spec.cut, settings) ? "hidden" : drawing?.callout ? "region" : "clear"
    ];
  if (!drawing) return "";
  if (bench.calloutsOf(drawing).called)
    return "Drag the plum corners or the middle of the region, and its callout follows.";
  if (drawing.callout)
    return "This callout follows its drawing; drag its region there, or the ochre edges here.";
  if (drawing.cut.kind === "section")
    return "Drag the line on the plan and this section follows; drag the ochre edges to crop it, a red diamond to cut a plan higher or lower.";
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
