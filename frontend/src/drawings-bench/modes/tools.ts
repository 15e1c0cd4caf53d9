import { useRef } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useAnnotate } from "../../annotating/state";
import { useBench } from "../../desk/drawings-state";
import { useMode } from "../../desk/mode";
import { useLook } from "../../drawing/look";
import { bodyTool } from "../bodies/body-tool";
import { regionTool } from "../callouts/region-tool";
import { alignTool } from "../cutting/align-tool";
import { lineTool } from "../cutting/line-tool";
import { measureTool } from "../cutting/measure-tool";
import { offerTool } from "../cutting/offer-tool";
import { breakTool } from "../extents/break-tool";
import { cornersTool } from "../extents/corners-tool";
import { groundTool } from "../ground/ground-tool";
import { levelTool, roomTool, thingTool, wallTool } from "../lineage/click-tools";
import { remarkTool } from "../review/remark-tool";
import { annotateTool } from "./annotate-tool";
import type { InHand, Pane } from "./tool";

/** All tools of the drawings bench. */
export const TOOLS: readonly InHand[] = [
  annotateTool,
  measureTool,
  regionTool,
  breakTool,
  cornersTool,
  alignTool,
  wallTool,
  thingTool,
  roomTool,
  levelTool,
  lineTool,
  offerTool,
  groundTool,
  bodyTool,
  remarkTool,
];

const byKind = (kind: string) => TOOLS.find((t) => t.kind === kind);

/** The tool in hand that takes the pointer in a pane; none where a click picks what is there. */
export function useToolIn(pane: Pane): InHand | undefined {
  const kind = useMode((s) => {
    const found = byKind(s.mode.kind);
    return found?.works(pane) ? found.kind : "look";
  });
  const latest = useRef(pane);
  latest.current = pane;
  // keys of what is in hand go to the pane that it works in
  useHotkeys(
    "*",
    (event) => {
      const found = byKind(useMode.getState().mode.kind);
      if (found?.works(latest.current) && found.key(event, latest.current)) event.preventDefault();
    },
    { enabled: kind !== "look" },
  );
  return byKind(kind);
}

/** One step back, as Escape takes it: from a box to zoom to, then from what is in hand, then from what is chosen.
 * Whether there was any. */
export function stepBack(): boolean {
  const [look, annotate, bench] = [useLook.getState(), useAnnotate.getState(), useBench.getState()];
  const inHand = byKind(useMode.getState().mode.kind);
  if (look.boxing) look.setBoxing(false);
  else if (inHand) inHand.back();
  else if (annotate.chosen || bench.picked) {
    annotate.choose(null);
    bench.setPicked(null);
  } else return false;
  return true;
}
