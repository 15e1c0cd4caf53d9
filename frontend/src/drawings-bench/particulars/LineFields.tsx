import { Ruler } from "lucide-react";
import type { Drawing, SectionCut } from "../../api/client";
import { useBench } from "../../desk/drawings-state";
import { CopyFields } from "../../drawing/CopyFields";
import { Check, Choice } from "../../fields/Choice";
import { align } from "../cutting/align-tool";
import { legsOf, withoutStep, withStep } from "../cutting/plan-geometry";

type Props = { drawing: Drawing; cut: SectionCut; onSave: (cut: SectionCut) => void };

/** Steps of a cutting line, and what can be done with the whole of it. */
export function LineFields({ drawing, cut, onSave }: Props) {
  const choose = useBench((s) => s.choose);
  const aligning = align.useHeld() !== null;
  return (
    <>
      <StepFields cut={cut} onSave={onSave} />
      <button
        type="button"
        className={`btn btn-xs justify-start ${aligning ? "btn-active" : ""}`}
        aria-pressed={aligning}
        onClick={() => align.set(aligning ? null : {})}
      >
        <Ruler size={13} /> Align to a face of the plan
      </button>
      <CopyFields drawing={drawing} onMade={(id) => choose(drawing.project_id, id)} />
    </>
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
