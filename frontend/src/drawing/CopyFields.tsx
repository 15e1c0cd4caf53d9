import { Copy, RotateCcw } from "lucide-react";
import { useState } from "react";
import type { Drawing } from "../api/client";
import { copySection } from "../api/cut-help";
import { putDrawing, queryClient, report } from "../api/queries";
import { LengthField } from "../fields/LengthField";
import { NumberField } from "../fields/NumberField";

/** Copies beside the line, one or several at equal distances, or square to it. */
export function CopyFields({ drawing, onMade }: { drawing: Drawing; onMade: (drawing: number) => void }) {
  const [by, setBy] = useState(2);
  const [times, setTimes] = useState(1);
  const copy = async (offsets: number[], turned = 0) => {
    try {
      const made = await copySection(drawing.id, offsets, turned);
      for (const one of made) putDrawing(queryClient, drawing.project_id, one);
      if (made[0]) onMade(made[0].id);
    } catch (error) {
      report(error);
    }
  };
  return (
    <details>
      <summary className="cursor-pointer text-xs">Copies of this section</summary>
      <div className="mt-1 flex flex-col gap-1.5">
        <LengthField label="Each by" value={by} onChange={(value) => value !== null && setBy(value)} />
        <NumberField
          label="How many"
          value={times}
          least={1}
          most={40}
          onChange={(n) => setTimes(Math.round(n))}
        />
        <button
          type="button"
          className="btn btn-xs justify-start"
          onClick={() => copy(Array.from({ length: times }, (_, k) => by * (k + 1)))}
        >
          <Copy size={13} /> Copy to the side looked at
        </button>
        <button type="button" className="btn btn-xs justify-start" onClick={() => copy([0], 90)}>
          <RotateCcw size={13} /> Copy turned by 90°
        </button>
      </div>
    </details>
  );
}
