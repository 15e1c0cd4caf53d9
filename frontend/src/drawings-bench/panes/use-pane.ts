import { useEffect, useMemo } from "react";
import { useAnnotating } from "../../annotating/use-annotating";
import type { Drawing, SectionCut } from "../../api/client";
import { useTried } from "../../api/corrections";
import { actOnLine, usePlaces } from "../../api/cut-help";
import { report, useStandards } from "../../api/queries";
import { useComparison } from "../../api/revisions";
import { letGoOfHand, useTrying } from "../../corrections/trying";
import type { Place } from "../../desk/mode";
import type { View } from "../../drawing/screen-form";
import { type Live, type Shown, useView } from "../../drawing/use-view";
import { useCompare } from "../../revisions/compare-state";
import { Snapper } from "../cutting/snaps";
import type { Bench } from "../desk/bench";
import type { Pane } from "../modes/tool";

type Wanted = {
  bench: Bench;
  side: Pane["side"];
  drawing: Drawing | undefined;
  /** What is shown where no drawing is saved yet. */
  drawn?: Live;
  croppable: boolean;
};

/** A pane with what it shows: the drawing as it is being changed, or compared with an earlier model. */
export function usePane({ bench, side, drawing, drawn, croppable }: Wanted): { pane: Pane; shown: Shown } {
  const { project, settings, drawings, current } = bench;
  const live = drawing ? bench.liveOf(drawing) : drawn;
  const shown = useView(project.id, drawing, live);
  const { earlier, alone } = useCompare();
  const compared = useComparison(live ? undefined : drawing, earlier ?? undefined, alone);
  const trying = useTrying((s) => s.corrections);
  const tried = useTried(live ? undefined : drawing, trying);
  const held = useInHand(live ? undefined : drawing, shown);
  const view =
    held || (trying && !live && tried.data) || (earlier !== null && !live && compared.data) || shown.view;
  const spec = live ?? drawing ?? { style: settings.new_style, cut: settings.new_section };
  const { scale } = spec.style;
  const { data: places } = usePlaces(project.id, side === "source");
  const { data: standards = [] } = useStandards(project.id);
  const annotating = useAnnotating(project.id, drawing, view, scale);
  const lit = bench.lit?.drawing.id;
  const snapper = useMemo(() => {
    const others = drawings.filter((d) => d.cut.kind === "section" && !d.callout && d.id !== lit);
    const lines = others.map((d) => ({ word: d.title, line: (d.cut as SectionCut).line as Place[] }));
    return new Snapper(view, places, lines);
  }, [view, places, drawings, lit]);
  const pane: Pane = {
    side,
    project,
    settings,
    standard: standards.find((s) => s.key === spec.style.standard),
    drawings,
    drawing,
    spec,
    scale,
    view,
    croppable,
    places,
    snapper,
    annotating,
    choose: bench.choose,
    save: (change) => drawing && bench.saveNow(drawing, change),
    act: async (act) => {
      if (!bench.lit || !current) return;
      try {
        bench.saveNow(current, { cut: await actOnLine(project.id, bench.lit.cut, act) });
      } catch (error) {
        report(error);
      }
    },
  };
  return { pane, shown };
}

/** A drawing a face of which is dragged, until it is drawn anew without the hand; null: none is. */
function useInHand(drawing: Drawing | undefined, { view: whole, busy }: Shown): View | null {
  const hand = useTrying((s) => s.inHand);
  const mine = hand !== null && hand.of.id === drawing?.id;
  const anew = mine && hand.of.view !== drawing.view && !busy;
  useEffect(() => {
    if (anew) letGoOfHand();
  }, [anew]);
  return useMemo(() => (mine && !anew ? together(hand, whole) : null), [mine, anew, hand, whole]);
}

const together = ({ view, around }: { view: View; around: View | null }, whole: View | null): View => {
  const others = around ?? whole ?? view;
  return { ...others, items: [...others.items, ...view.items] };
};
