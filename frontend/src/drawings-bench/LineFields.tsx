import { Copy, RotateCcw, Ruler } from "lucide-react";
import { useState } from "react";
import type { Drawing, SectionCut } from "../api/client";
import { copySection } from "../api/cut-help";
import { putDrawing, queryClient, report } from "../api/queries";
import { Check, Choice } from "../fields/Choice";
import { LengthField } from "../fields/LengthField";
import { NumberField } from "../fields/NumberField";
import { useBench } from "./bench-state";
import { legsOf, withoutStep, withStep } from "./plan-geometry";

type Props = { drawing: Drawing; cut: SectionCut; onSave: (cut: SectionCut) => void };

/** Steps of a cutting line, and what can be done with the whole of it. */
export function LineFields({ drawing, cut, onSave }: Props) {
  const { clicking, setClicking } = useBench();
  const aligning = clicking === "face";
  return (
    <>
      <StepFields cut={cut} onSave={onSave} />
      <button
        type="button"
        className={`btn btn-xs justify-start ${aligning ? "btn-active" : ""}`}
        aria-pressed={aligning}
        onClick={() => setClicking(aligning ? null : "face")}
      >
        <Ruler size={13} /> Align to a face of the plan
      </button>
      <CopyFields drawing={drawing} />
    </>
  );
}

/** Copies beside the line, one or several at equal distances, or square to it. */
function CopyFields({ drawing }: { drawing: Drawing }) {
  const choose = useBench((s) => s.choose);
  const [by, setBy] = useState(2);
  const [times, setTimes] = useState(1);
  const copy = async (offsets: number[], turned = 0) => {
    try {
      const made = await copySection(drawing.id, offsets, turned);
      for (const one of made) putDrawing(queryClient, drawing.project_id, one);
      if (made[0]) choose(drawing.project_id, made[0].id);
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

function StepFields({ cut, onSave }: { cut: SectionCut; onSave: (cut: SectionCut) => void }) {
  const steps = legsOf(cut).length - 1;
  const corners = cut.line.length - 2;
  return (
    <>
      <div className="flex gap-1">
        <button type="button" className="btn btn-xs flex-1" onClick={() => onSave(withStep(cut))}>
          Add a step
        </button>
        {corners > 0 && (
          <button type="button" className="btn btn-xs flex-1" onClick={() => onSave(withoutStep(cut))}>
            Remove a step
          </button>
        )}
      </div>
      {corners > 0 && (
        <>
          <Choice
            label="Corners"
            value={cut.corners ?? "steps"}
            options={[
              ["steps", "step"],
              ["turns", "turn: unfold"],
            ]}
            onChange={(value) => onSave({ ...cut, corners: value, depths: [] })}
          />
          <Check
            label="Line where it steps"
            checked={cut.step_lines ?? false}
            onChange={(step_lines) => onSave({ ...cut, step_lines })}
          />
          <Check
            label="A depth for each leg"
            checked={(cut.depths?.length ?? 0) > 0}
            onChange={(each) =>
              onSave({ ...cut, depths: each ? Array(steps + 1).fill(cut.depth ?? null) : [] })
            }
          />
        </>
      )}
    </>
  );
}
