import type { Cut, Drawing, Element, Style } from "../../api/client";
import { client, unwrap } from "../../api/client";
import { report } from "../../api/queries";
import { useBench } from "../../desk/drawings-state";
import type { Spot } from "../../drawing/camera";
import type { PaperPointer } from "../../drawing/canvas/DrawingCanvas";
import { added } from "./added";

const REACH = 6; // pixels about the pointer in which lines count

/** Picking in a drawing: an element under the pointer, or all in a box; with Shift more of them. */
export function usePick(project: number, drawing: Drawing | undefined, spec: { cut: Cut; style: Style }) {
  const metres = spec.style.scale / 1000;
  const path = { params: { path: { id: project } } };
  const ask = async (question: () => Promise<Element[]>, how: { box: boolean; more: boolean }) => {
    if (!drawing) return;
    const before = useBench.getState().picked;
    try {
      const found = await question();
      const { picked, setPicked } = useBench.getState();
      if (before && !picked) return; // let go of while it was asked
      setPicked(added(picked, drawing.id, found, how));
    } catch (error) {
      report(error);
    }
  };
  return {
    onClick: ({ paper, zoom, shift }: PaperPointer) =>
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
        { box: false, more: shift },
      ),
    /** From left to right a box takes what lies in it, from right to left what it touches. */
    onBox: (from: Spot, to: Spot, shift: boolean) =>
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
        { box: true, more: shift },
      ),
  };
}
