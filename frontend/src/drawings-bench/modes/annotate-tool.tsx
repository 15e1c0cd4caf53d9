import { ToolFoot } from "../../annotating/ToolFoot";
import { annotate } from "../../annotating/tools";
import { goesOnIn } from "../../desk/mode";
import { tool } from "./tool";

/** The tools that annotate a drawing or touch it up. */
export const annotateTool = tool({
  held: annotate,
  works: ({ drawing }, mode) => goesOnIn(mode, drawing),
  click: (at, pane) => pane.annotating.onClick(at),
  move: (at, pane) => pane.annotating.onMove(at),
  doubleClick: (_at, pane) => pane.annotating.onDoubleClick(),
  box: (from, to, pane) => pane.annotating.onBox(from, to),
  key: ({ key }, pane) => key === "Enter" && pane.annotating.onEnter(),
  back: ({ picks, ...mode }) => {
    if (picks.length === 0) return null;
    return { ...mode, picks: picks.slice(0, -1), drawing: picks.length === 1 ? null : mode.drawing };
  },
  plain: true,
  Foot: ({ pane }) => <ToolFoot project={pane.project.id} standard={pane.standard} />,
});
