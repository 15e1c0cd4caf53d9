import type { Cut, Drawing, Element, Style } from "../../api/client";
import { client, unwrap } from "../../api/client";
import { report } from "../../api/queries";
import { useBench } from "../../desk/drawings-state";
import type { Spot } from "../../drawing/camera";
import type { PaperPointer } from "../../drawing/canvas/DrawingCanvas";

const REACH = 6; // pixels about the pointer in which lines count

/** Picking in a drawing: an element under the pointer, or all in a box. */
export function usePick(project: number, drawing: Drawing | undefined, spec: { cut: Cut; style: Style }) {
  const setPicked = useBench((s) => s.setPicked);
  const metres = spec.style.scale / 1000;
  const path = { params: { path: { id: project } } };
  const ask = async (question: () => Promise<Element[]>, many: boolean) => {
    if (!drawing) return;
    try {
      const found = await question();
      setPicked(found.length > 0 ? { drawing: drawing.id, found, at: 0, many } : null);
    } catch (error) {
      report(error);
    }
  };
  return {
    onClick: ({ paper, zoom }: PaperPointer) =>
      ask(
        () =>
          unwrap<Element[]>(
            client.POST("/api/projects/{id}/pick", {
              ...path,
              body: {
                cut: spec.cut,
                style: spec.style,
                at: [paper.x * metres, paper.y * metres],
                reach: (REACH / zoom) * metres,
              },
            }),
          ),
        false,
      ),
    /** From left to right a box takes what lies in it, from right to left what it touches. */
    onBox: (from: Spot, to: Spot) =>
      ask(
        () =>
          unwrap<Element[]>(
            client.POST("/api/projects/{id}/pick-in", {
              ...path,
              body: {
                cut: spec.cut,
                style: spec.style,
                box: [from.x * metres, from.y * metres, to.x * metres, to.y * metres],
                whole: to.x > from.x,
              },
            }),
          ),
        true,
      ),
  };
}
