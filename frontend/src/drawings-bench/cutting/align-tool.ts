import { held } from "../../desk/mode";
import { says } from "../modes/says";
import { tool } from "../modes/tool";
import { SNAP_REACH } from "./CuttingLine";
import { onModel } from "./plan-geometry";

export const align = held<{ kind: "align" }>("align");

/** A click on a face, along which the lit line is laid. */
export const alignTool = tool({
  held: align,
  works: (pane) => pane.side === "source",
  click: ({ paper, zoom }, { scale, snapper, act }) => {
    const direction = snapper.direction(onModel(paper, scale), (SNAP_REACH / zoom) * (scale / 1000));
    if (!direction) return;
    align.set(null);
    act({ kind: "align", direction });
  },
  back: () => null,
  Foot: says("Click the face that the line should run along. Esc leaves."),
});
