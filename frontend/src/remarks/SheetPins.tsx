import type { Sheet } from "../api/client";
import { useRemarks } from "../api/remarks";
import type { Camera } from "../drawing/camera";
import { Pins } from "./Pins";
import { useRemarking } from "./pinning";

/** The remarks on a sheet. */
export function SheetPins({ sheet, camera }: { sheet: Sheet; camera: Camera }) {
  const { data: remarks = [] } = useRemarks(sheet.project_id);
  const draft = useRemarking((s) => s.draft);
  const at = ([x, y]: readonly [number, number]) => ({ x, y });
  return (
    <Pins
      camera={camera}
      pins={remarks.filter((one) => one.sheet === sheet.id).map((one) => ({ ...one, at: at(one.at) }))}
      draft={draft?.sheet === sheet.id ? at(draft.at) : null}
    />
  );
}
