import { pinAt, pinning } from "../../remarks/pinning";
import { tool } from "../modes/tool";

/** The place of a remark: the next click in a drawing. */
export const remarkTool = tool({
  held: pinning,
  works: (pane) => pane.drawing !== undefined,
  click: ({ paper }, { drawing, scale }) => {
    if (drawing)
      pinAt({ sheet: null, issued: null, drawing: drawing.id, at: [paper.x * scale, paper.y * scale] });
  },
  back: () => null,
  Foot: () => "Click the place that you remark on. Escape leaves it.",
});
