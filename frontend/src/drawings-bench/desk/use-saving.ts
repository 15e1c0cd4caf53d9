import { toast } from "sonner";
import type { Cut, Drawing, SharedExtents } from "../../api/client";
import { type DrawingChange, report, useSaveDrawing } from "../../api/queries";
import { type Move, movedSides, moveSides, useSharedExtents } from "../../api/shared-extents";
import { useBench } from "../../desk/drawings-state";

/** Whether a drawing can be turned round: a callout looks where its drawing looks. */
export const canTurn = (drawing: Drawing) =>
  !drawing.callout && drawing.cut.kind !== "plane" && drawing.cut.kind !== "blank";

/** The cut of a drawing, as it is shown, looking the other way; none of what can't be turned. */
export const turnedRound = (drawing: Drawing, cut: Cut): Cut | undefined =>
  canTurn(drawing) && "look" in cut && cut.kind !== "plan"
    ? { ...cut, look: cut.look === "left" ? "right" : "left" }
    : undefined;

/** Changes of drawings as they are saved: shown at once, and those of a side of shared extents given to these. */
export function useSaving(project: number) {
  const { live, setLive } = useBench();
  const save = useSaveDrawing(project);
  const { data: boxes = [] } = useSharedExtents(project);
  const liveOf = (drawing: Drawing | undefined) => (drawing && live?.id === drawing.id ? live : undefined);
  const boxOf = (cut: Cut | undefined) => boxes.find((b) => b.key === cut?.shared_extents);
  const moveBox = async (drawing: Drawing, box: SharedExtents, moves: Move[]) => {
    try {
      if (moves.some((m) => m.to === null))
        toast("Shared extents have no open side; release the drawing first.");
      else await moveSides(box, drawing.cut, moves);
    } catch (error) {
      report(error);
    }
    if (useBench.getState().live?.id === drawing.id) setLive(null);
  };
  const saveNow = (drawing: Drawing, change: DrawingChange) => {
    const box = boxOf(drawing.cut);
    if (box && change.cut?.shared_extents === box.key) {
      const moves = movedSides(drawing.cut, change.cut);
      if (moves.length > 0) {
        void moveBox(drawing, box, moves);
        return;
      }
    }
    const now = liveOf(drawing);
    const { cut, style } = now ?? drawing;
    if (change.cut || change.style || change.callout) {
      const callout = change.callout ?? now?.callout;
      setLive({
        id: drawing.id,
        cut: change.cut ?? cut,
        style: change.style ?? style,
        saving: true,
        ...(callout && { callout }),
      });
    }
    save.mutate(
      { id: drawing.id, change },
      { onSettled: () => useBench.getState().live?.id === drawing.id && setLive(null) },
    );
  };
  return { liveOf, boxOf, saveNow };
}
