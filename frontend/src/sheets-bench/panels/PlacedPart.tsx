import { Link } from "react-router";
import type { Drawing, Sheet } from "../../api/client";
import { useSheetActs } from "../../api/sheet-acts";
import { useSheetState } from "../../desk/sheet-state";
import { Part } from "../../fields/Part";
import { scaleText } from "../../fields/scale";
import { TextField } from "../../fields/TextField";

/** The drawings of a sheet: their numbers, and a way to take them off. */
export function PlacedPart({ sheet, drawings }: { sheet: Sheet; drawings: Drawing[] }) {
  const { change, take } = useSheetActs(sheet.project_id);
  const { choose } = useSheetState();
  return (
    <Part title="Drawings on this sheet">
      {sheet.placements.length === 0 && (
        <p className="opacity-85">None yet: place one from the list at the left.</p>
      )}
      {sheet.placements.map((p) => {
        const drawing = drawings.find((d) => d.id === p.drawing_id);
        return (
          <div key={p.id} className="flex flex-col gap-1 border-b border-base-300 pb-1.5 last:border-0">
            <span className="flex items-baseline gap-1">
              <Link
                className="link link-hover min-w-0 flex-1 truncate"
                to={`/projects/${sheet.project_id}?drawing=${p.drawing_id}`}
              >
                {drawing?.title}
              </Link>
              <span className="figures text-xs opacity-85">{drawing && scaleText(drawing.style.scale)}</span>
            </span>
            <div className="flex items-end gap-1">
              <TextField
                label="Number"
                value={p.number}
                figures
                onEnter={(number) => change.mutate({ placement: p, change: { number } })}
              />
              <button type="button" className="btn btn-xs" onClick={() => choose([p.id])}>
                Choose
              </button>
              <button type="button" className="btn btn-xs" onClick={() => take.mutate(p.id)}>
                Take off
              </button>
            </div>
          </div>
        );
      })}
    </Part>
  );
}
