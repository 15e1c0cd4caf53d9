import { useMemo } from "react";
import type { ExtentsBox, SharedExtents } from "../api/client";
import { keys, queryClient, report } from "../api/queries";
import { editBox } from "../api/shared-extents";
import { useModelBench } from "../model/model-state";

/** Boxes of shared extents as they are shown, and what becomes of one whose side is dragged (null: it was let go). */
export function useBoxes(project: number, boxes: SharedExtents[]) {
  const { box, set } = useModelBench();
  const sized = useMemo(() => boxes.map((b) => (b.id === box?.id ? box.now : b.box)), [boxes, box]);
  const resize = async (now: ExtentsBox | null) => {
    const shared = boxes.find((b) => b.id === box?.id);
    if (!box || !shared) return;
    if (now) {
      set({ box: { id: box.id, now } });
      return;
    }
    try {
      await editBox(shared, { box: box.now });
    } catch (wrong) {
      report(wrong);
      set({ box: null });
    }
    await queryClient.invalidateQueries({ queryKey: keys.sharedExtents(project) });
  };
  return { sized, resize };
}
