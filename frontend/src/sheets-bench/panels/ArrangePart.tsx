import { useState } from "react";
import type { Arranged, Drawing, Sheet } from "../../api/client";
import { useArrange } from "../../api/sheet-acts";
import { Check } from "../../fields/Choice";
import { Part } from "../../fields/Part";
import { scaleText } from "../../fields/scale";

/** All drawings of the sheet arranged in rows; what finds no room is told, and what the scales are. */
export function ArrangePart({ sheet, drawings }: { sheet: Sheet; drawings: Drawing[] }) {
  const arrange = useArrange(sheet.project_id);
  const [numbers, setNumbers] = useState(true);
  const [left, setLeft] = useState<Arranged["left_over"]>([]);
  const all = (fit: { smallest?: boolean; largest?: boolean }) =>
    arrange.mutate(
      { sheet: sheet.id, drawings: [], all: true, numbers, smallest: false, largest: false, ...fit },
      { onSuccess: (done) => setLeft(done.left_over) },
    );
  const placed = sheet.placements
    .map((p) => drawings.find((d) => d.id === p.drawing_id))
    .filter((d): d is Drawing => d !== undefined);
  const scales = [...new Set(placed.map((d) => d.style.scale))].sort((a, b) => a - b);
  if (placed.length === 0) return null;
  return (
    <Part title="Arrange">
      <p className="text-xs opacity-85">
        {scales.length === 1
          ? `All at ${scaleText(scales[0] as number)}.`
          : `Scales on this sheet: ${scales.map(scaleText).join(", ")}.`}
      </p>
      <Check label="Number them by reading order" checked={numbers} onChange={setNumbers} />
      <button type="button" className="btn btn-xs" disabled={arrange.isPending} onClick={() => all({})}>
        Arrange all in rows
      </button>
      <button
        type="button"
        className="btn btn-xs"
        disabled={arrange.isPending}
        title="The sheet takes the smallest size on which all its drawings find room at their scales"
        onClick={() => all({ smallest: true })}
      >
        … on the smallest sheet
      </button>
      {scales.length === 1 && (
        <button
          type="button"
          className="btn btn-xs"
          disabled={arrange.isPending}
          title="All drawings take the largest scale at which they find room on this sheet"
          onClick={() => all({ largest: true })}
        >
          … at the largest scale
        </button>
      )}
      {left.map((l) => (
        <p key={l.drawing} role="status" className="text-xs text-warning">
          {l.title}: {l.says}.
        </p>
      ))}
    </Part>
  );
}
