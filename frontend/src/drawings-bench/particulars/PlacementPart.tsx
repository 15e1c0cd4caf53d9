import { useState } from "react";
import { Link } from "react-router";
import type { Drawing, Sheet } from "../../api/client";
import { useSheetActs } from "../../api/sheet-acts";
import { Part } from "../../fields/Part";

/** Which sheet a drawing stands on, or a way to put it on one. */
export function PlacementPart({
  project,
  drawing,
  sheets,
}: {
  project: number;
  drawing: Drawing;
  sheets: Sheet[];
}) {
  const { add, place, take } = useSheetActs(project);
  const [target, setTarget] = useState<string>("");
  const busy = add.isPending || place.isPending || take.isPending;
  const chosen = target || String(sheets[0]?.id ?? "new");

  const put = async () => {
    const sheet =
      chosen === "new"
        ? (await add.mutateAsync({ title: drawing.title, for_drawing: drawing.id }))?.id
        : Number(chosen);
    if (sheet) place.mutate({ sheet, drawing: drawing.id });
  };

  if (drawing.placement)
    return (
      <Part title="Placement">
        <p>
          Drawing <b className="figures">{drawing.placement.number}</b> on sheet{" "}
          <Link className="link figures" to={`/projects/${project}/sheets/${drawing.placement.sheet_id}`}>
            {drawing.placement.sheet_number}
          </Link>
        </p>
        <button
          type="button"
          className="btn btn-xs"
          disabled={busy}
          onClick={() => drawing.placement && take.mutate(drawing.placement.id)}
        >
          Take off the sheet
        </button>
      </Part>
    );
  return (
    <Part title="Placement">
      <div className="flex gap-1">
        <select
          className="select select-xs min-w-0 flex-1"
          aria-label="Sheet to place on"
          value={chosen}
          onChange={(event) => setTarget(event.target.value)}
        >
          {sheets.map((sheet) => (
            <option key={sheet.id} value={sheet.id}>
              {sheet.number} {sheet.title}
            </option>
          ))}
          <option value="new">A new sheet (A1)</option>
        </select>
        <button type="button" className="btn btn-xs btn-neutral" disabled={busy} onClick={put}>
          Place
        </button>
      </div>
    </Part>
  );
}
