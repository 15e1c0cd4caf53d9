import type { CalloutMark, Cut, Drawing, Marker, Region } from "../../api/client";
import { type DrawingChange, useMarkers } from "../../api/queries";
import { useBench } from "../../desk/drawings-state";
import type { Live } from "../../drawing/use-view";
import { useCommand } from "../../shell/commands";
import type { CalloutProps } from "./PaneCallouts";
import { extentsOf, regionOf } from "./region-geometry";
import { startRegion } from "./region-tool";

const NO_MARKERS: Marker[] = [];

const NO_CALLOUTS: CalloutMark[] = [];

/** The markers of sections, and those of callouts, that each of the two drawings shows. */
export function useMarkersOf(project: number, ...drawings: (Drawing | undefined)[]) {
  const ids = drawings.filter((d) => d !== undefined).map((d) => d.id);
  const { data } = useMarkers(project, ids);
  const of = (drawing: Drawing | undefined) => data?.find((d) => d.id === drawing?.id);
  return {
    shownIn: (drawing: Drawing | undefined) => of(drawing)?.markers ?? NO_MARKERS,
    calledIn: (drawing: Drawing | undefined) => of(drawing)?.callouts ?? NO_CALLOUTS,
  };
}

type Bench = {
  drawings: Drawing[];
  current: Drawing | undefined;
  /** Whether regions are to be enlarged plans. */
  onPlan: boolean;
  enabled: boolean;
  liveOf: (drawing: Drawing | undefined) => Live | undefined;
  calledIn: (drawing: Drawing | undefined) => CalloutMark[];
  saveNow: (drawing: Drawing, change: DrawingChange) => void;
};

/** Callouts of the drawings in the panes: what is shown of them, and how the chosen one's region is dragged. */
export function useCallouts({ drawings, current, onPlan, enabled, liveOf, calledIn, saveNow }: Bench) {
  const setLive = useBench((s) => s.setLive);
  const callout = current?.callout ? { ...current, callout: current.callout } : undefined;
  const now = liveOf(callout);
  const extents = now?.cut.extents;
  const region =
    callout &&
    (now?.callout?.region ??
      (extents && JSON.stringify(extents) !== JSON.stringify(callout.cut.extents)
        ? regionOf(extents, callout.callout.region)
        : callout.callout.region));
  const showRegion = (next: Region) => {
    if (!callout) return;
    const { cut, style } = liveOf(callout) ?? callout;
    const held = { ...callout.callout, region: next };
    setLive({
      id: callout.id,
      cut: { ...cut, extents: extentsOf(next, cut.extents) } as Cut,
      style,
      callout: held,
    });
  };
  /** What a pane shows of callouts; the grips of the chosen one's region where it was called out. */
  const calloutsOf = (drawing: Drawing | undefined): CalloutProps => {
    const here = callout && callout.parent_id === drawing?.id;
    return {
      callouts: calledIn(drawing),
      called: here ? callout : undefined,
      calledRegion: here ? region : undefined,
      onRegion: showRegion,
      onRegionDrop: () => {
        const now = useBench.getState().live;
        if (callout && now?.id === callout.id && now.callout) saveNow(callout, { callout: now.callout });
      },
      onBubble: (id, bubble) => {
        const moved = drawings.find((d) => d.id === id);
        if (!moved) return;
        const marker = { ...moved.style.callout, bubble };
        saveNow(moved, { style: { ...moved.style, callout: marker } as Drawing["style"] });
      },
    };
  };
  const start = (shape: Region["shape"]) => startRegion(shape, onPlan ? "plan" : "detail");
  useCommand({
    name: "Call a region out",
    group: "Drawing",
    keys: "o",
    enabled,
    run: () => start("rectangle"),
  });
  useCommand({ name: "Call a circle out", group: "Drawing", enabled, run: () => start("circle") });
  useCommand({ name: "Call a polygon out", group: "Drawing", enabled, run: () => start("polygon") });
  return calloutsOf;
}
