import { useMemo } from "react";
import type { Drawing, Marker, Project, SectionCut, Settings, Style } from "../../api/client";
import { useBench } from "../../desk/drawings-state";
import type { Spec } from "../../drawing/use-view";
import type { CalloutProps } from "../callouts/PaneCallouts";
import { useCallouts, useMarkersOf } from "../callouts/use-callouts";
import { line } from "../cutting/line-draft";
import { turnedRound, useSaving } from "./use-saving";

/** What all panes work with: the drawings, the one that is chosen, and how changes are shown and saved. */
export type Bench = Of &
  ReturnType<typeof useSaving> & {
    titles: Map<number, string>;
    /** The chosen drawing, where it is a section whose line is lit: as it is saved, and as it is shown. */
    lit: { drawing: Drawing; cut: SectionCut; style: Style } | undefined;
    show: (drawing: Drawing, change: Partial<Spec>) => void;
    /** Save what is shown of a drawing, as it is let go of. */
    drop: (drawing: Drawing, what: keyof Spec) => void;
    /** Look the other way; nothing where a drawing can't. */
    turn: (drawing: Drawing) => (() => void) | undefined;
    markersOf: (drawing: Drawing) => Marker[];
    calloutsOf: (drawing: Drawing | undefined) => CalloutProps;
  };

type Of = {
  project: Project;
  settings: Settings;
  drawings: Drawing[];
  current: Drawing | undefined;
  choose: (drawing: number) => void;
  beside: (drawing: number) => void;
};

/** `panes`: the drawings that are shown, source and result. */
export function useBenchOf({ panes, ...of }: Of & { panes: (Drawing | undefined)[] }): Bench {
  const { project, drawings, current } = of;
  const saving = useSaving(project.id);
  const { liveOf, saveNow } = saving;
  const setLive = useBench((s) => s.setLive);
  const { shownIn, calledIn } = useMarkersOf(project.id, ...panes);
  const said = JSON.stringify(drawings.map((d) => [d.id, d.title]));
  const titles = useMemo(() => new Map<number, string>(JSON.parse(said)), [said]);
  const drafting = line.useHeld() !== null;
  const calloutsOf = useCallouts({
    drawings,
    current,
    onPlan: (panes[1] ?? panes[0])?.cut.kind === "plan",
    enabled: panes[0] !== undefined && !drafting,
    liveOf,
    calledIn,
    saveNow,
  });
  const shown = liveOf(current) ?? current;
  return {
    ...of,
    ...saving,
    titles,
    lit:
      current && shown?.cut.kind === "section" && !current.callout
        ? { drawing: current, cut: shown.cut, style: shown.style }
        : undefined,
    show: (drawing, change) => {
      const { cut, style } = liveOf(drawing) ?? drawing;
      setLive({ id: drawing.id, cut, style, ...change });
    },
    drop: (drawing, what) => {
      const now = useBench.getState().live;
      if (now?.id === drawing.id) saveNow(drawing, { [what]: now[what] });
    },
    turn: (drawing) => {
      const turned = turnedRound(drawing, (liveOf(drawing) ?? drawing).cut);
      return turned && (() => saveNow(drawing, { cut: turned }));
    },
    markersOf: shownIn,
    calloutsOf,
  };
}
