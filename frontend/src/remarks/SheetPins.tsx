import type { IssuedPin, Pin, Sheet } from "../api/client";
import { type At, type Spot, useIssuedPins, useSheetPins } from "../api/remarks";
import type { Camera } from "../drawing/camera";
import { Pins, standing } from "./Pins";
import { useRemarking } from "./pinning";
import { Sketching } from "./Sketching";

/** The remarks on a sheet, and in its drawings. */
export function SheetPins({ sheet, camera }: { sheet: Sheet; camera: Camera }) {
  const { data: pins = [] } = useSheetPins(sheet.project_id, { id: sheet.id, view: sheet.picture });
  return <PaperPins camera={camera} pins={pins} mine={(draft) => draft.sheet === sheet.id} />;
}

/** The remarks of a sheet as it was issued: those made on it, and those carried to it. */
export function IssuedPins({ project, issued, camera }: { project: number; issued: number; camera: Camera }) {
  const { data: pins = [] } = useIssuedPins(project, issued);
  return <PaperPins camera={camera} pins={pins} mine={(draft) => draft.issued === issued} />;
}

function PaperPins({
  camera,
  pins,
  mine,
}: {
  camera: Camera;
  pins: readonly (Pin | IssuedPin)[];
  mine: (draft: Spot) => boolean;
}) {
  const draft = useRemarking((s) => s.draft);
  const own = draft !== null && mine(draft);
  const at = ([x, y]: At) => ({ x, y });
  return (
    <>
      <Pins camera={camera} pins={standing(pins, at)} draft={own ? at(draft.at) : null} />
      {own && <Sketching camera={camera} scale={1} />}
    </>
  );
}
