import type { Drawing } from "../api/client";
import { usePins } from "../api/remarks";
import type { Camera } from "../drawing/camera";
import { Pins, standing } from "./Pins";
import { useRemarking } from "./pinning";
import { Sketching } from "./Sketching";

/** The remarks whose place a drawing shows, whichever drawing they were made in. */
export function DrawingPins({ drawing, camera, scale }: { drawing: Drawing; camera: Camera; scale: number }) {
  const { data: pins = [] } = usePins(drawing.project_id, drawing);
  const draft = useRemarking((s) => s.draft);
  const mine = draft?.drawing === drawing.id;
  const onPaper = ([u, v]: readonly [number, number]) => ({ x: u / scale, y: v / scale });
  return (
    <>
      <Pins camera={camera} pins={standing(pins, onPaper)} draft={mine ? onPaper(draft.at) : null} />
      {mine && <Sketching camera={camera} scale={scale} />}
    </>
  );
}
