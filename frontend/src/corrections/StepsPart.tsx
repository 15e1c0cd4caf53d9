import { useState } from "react";
import type { Element, InFile, Project, StepsCorrection } from "../api/client";
import { correct, NOW, useInFile, withCorrection } from "../api/corrections";
import { useProject } from "../api/queries";
import { LengthField } from "../fields/LengthField";
import { useLengths } from "../fields/lengths";
import { NumberField } from "../fields/NumberField";
import { CorrectionForm } from "./CorrectionForm";
import { saidOf } from "./said-of";
import { useTryOut } from "./trying";

const [LEAST, MOST] = [2, 80]; // risers
const [SHORT, LOW] = [0.1, 0.05]; // metres that a step goes and rises at least

/** The steps of a picked flight: another number, other measures, or up the other way. */
export function StepsPart({ project, element }: { project: number; element: Element }) {
  const [open, setOpen] = useState(false);
  const { data: of } = useProject(project);
  const { data, isError } = useInFile(of, element.guid, open);
  if (!of) return null;
  if (!open)
    return (
      <button type="button" className="link self-start text-xs" onClick={() => setOpen(true)}>
        Put its steps right
      </button>
    );
  if (isError) return <p className="text-xs text-warning">! It is in no file.</p>;
  if (!data) return null;
  if (!data.steps) return <p className="text-xs text-warning">! {data.why_no_steps}</p>;
  return (
    <Steps
      key={saidOf(of.corrections, [element.guid])}
      project={of}
      element={element.guid}
      inFile={data.steps}
      onDone={() => setOpen(false)}
    />
  );
}

type StepsProps = {
  project: Project;
  element: string;
  inFile: NonNullable<InFile["steps"]>;
  onDone: () => void;
};

function Steps({ project, element, inFile, onDone }: StepsProps) {
  const kept = project.corrections.find((one) => "risers" in one && one.element === element) as
    | StepsCorrection
    | undefined;
  const [risers, setRisers] = useState(kept?.risers ?? inFile.risers);
  const [going, setGoing] = useState(kept?.going ?? inFile.going);
  const [rise, setRise] = useState<number | null>(kept?.rise ?? null);
  const [otherWay, setOtherWay] = useState(kept?.other_way ?? false);
  const [reason, setReason] = useState(kept?.reason ?? "");
  const { say } = useLengths();
  const shared = Math.round(((inFile.rise * inFile.risers) / risers) * 1e4) / 1e4;
  const wanted: StepsCorrection = {
    element,
    risers,
    going,
    rise,
    other_way: otherWay,
    had: kept?.had ?? null,
    reason,
    ...NOW,
  };
  const now = JSON.stringify([risers, going, rise, otherWay]);
  const inFileNow = JSON.stringify([inFile.risers, inFile.going, null, false]);
  const before = kept
    ? JSON.stringify([kept.risers, kept.going, kept.rise ?? null, kept.other_way ?? false])
    : inFileNow;
  const other = now !== inFileNow;
  useTryOut(now === before ? null : withCorrection(project, kept ?? null, other ? wanted : null));
  return (
    <CorrectionForm
      label="Steps as they shall be"
      reason={reason}
      onReason={setReason}
      ready={other && (now !== before || reason !== (kept?.reason ?? ""))}
      kept={kept !== undefined}
      onDraw={() => correct(project, kept ?? null, wanted)}
      onTakeBack={() => correct(project, kept ?? null, null)}
      onLeave={onDone}
    >
      <p className="opacity-80">
        {inFile.risers} × {say(inFile.rise)} / {say(inFile.going)} in the file
      </p>
      <NumberField
        label="Risers"
        value={risers}
        least={LEAST}
        most={MOST}
        onChange={(count) => setRisers(Math.round(count))}
      />
      <LengthField label="Going" value={going} least={SHORT} onChange={(m) => setGoing(m ?? inFile.going)} />
      <LengthField
        label="Rise"
        value={rise ?? shared}
        least={LOW}
        onChange={(metres) => setRise(metres === null || metres === shared ? null : metres)}
      />
      <p className="opacity-80">
        {rise === null
          ? "As high together as in the file."
          : `${say(rise * risers)} high together; ${say(inFile.rise * inFile.risers)} in the file.`}
      </p>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={otherWay}
          onChange={() => setOtherWay(!otherWay)}
        />
        up the other way
      </label>
      <p className="opacity-80">From the same foot. Landings, walls and rails stay where they are.</p>
    </CorrectionForm>
  );
}
