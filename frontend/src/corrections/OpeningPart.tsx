import { useState } from "react";
import type { Element, Opening, OpeningCorrection, Project } from "../api/client";
import { correct, NOW, useOpening, withCorrection } from "../api/corrections";
import { useProject } from "../api/queries";
import { LengthField } from "../fields/LengthField";
import { CorrectionForm } from "./CorrectionForm";
import { type Measures, measuresOf, movesOf, type Stays } from "./opening";
import { saidOf } from "./said-of";
import { useTryOut } from "./trying";

export const FILLS = new Set(["window", "door"]);
const LEAST = 0.15; // metres that a window is wide and high at least
const SHOWN: [keyof Measures, string][] = [
  ["width", "Width"],
  ["height", "Height"],
  ["sill", "Sill"],
  ["along", "To the right"],
];

/** The opening of a picked window or door: of another size, or elsewhere in its wall. */
export function OpeningPart({ project, element }: { project: number; element: Element }) {
  const [open, setOpen] = useState(false);
  const { data: of } = useProject(project);
  const { data } = useOpening(of, element.guid, open);
  if (!of) return null;
  if (!open)
    return (
      <button type="button" className="link self-start text-xs" onClick={() => setOpen(true)}>
        Another size or place for its opening
      </button>
    );
  if (!data) return null;
  if (!data.opening) return <p className="text-xs text-warning">! It is in no file.</p>;
  return (
    <Sides
      key={saidOf(of.corrections, [element.guid])}
      project={of}
      element={element.guid}
      inFile={data.opening}
      onDone={() => setOpen(false)}
    />
  );
}

type SidesProps = { project: Project; element: string; inFile: Opening; onDone: () => void };

function Sides({ project, element, inFile, onDone }: SidesProps) {
  const kept = project.corrections.find((one) => "looks" in one && one.element === element) as
    | OpeningCorrection
    | undefined;
  const before = measuresOf(inFile, kept);
  const [measures, setMeasures] = useState<Measures>(before);
  const [typed, setTyped] = useState<Partial<Measures>>({});
  const [stays, setStays] = useState<Stays>("middle");
  const [reason, setReason] = useState(kept?.reason ?? "");
  const moves = movesOf(inFile, { ...measures, ...typed }, stays, kept);
  const other = Object.values(moves).some((by) => Math.abs(by) > 1e-6);
  const wanted: OpeningCorrection = {
    element,
    looks: inFile.looks,
    ...moves,
    stood: kept?.stood ?? null,
    reason,
    ...NOW,
  };
  const asDrawn = SHOWN.every(
    ([key]) => Math.abs(({ ...measures, ...typed }[key] ?? 0) - (before[key] ?? 0)) < 1e-6,
  );
  useTryOut(asDrawn ? null : withCorrection(project, kept ?? null, other ? wanted : null));
  return (
    <CorrectionForm
      label="Opening as it shall be"
      reason={reason}
      onReason={setReason}
      ready={other && (!asDrawn || reason !== (kept?.reason ?? ""))}
      kept={kept !== undefined}
      onDraw={() => correct(project, kept ?? null, wanted)}
      onTakeBack={() => correct(project, kept ?? null, null)}
      onLeave={onDone}
    >
      {SHOWN.map(([key, label]) => {
        const value = measures[key];
        return value === null ? null : (
          <LengthField
            key={key}
            label={label}
            value={value}
            least={key === "width" || key === "height" ? LEAST : undefined}
            whileTyped={(metres) => setTyped({ [key]: metres })}
            onChange={(metres) => {
              setTyped({});
              if (metres !== null) setMeasures({ ...measures, [key]: metres });
            }}
          />
        );
      })}
      <p className="opacity-80">
        {inFile.above_floor === null ? "Sill as surveyed." : "Sill above the floor of its storey."} To the
        right, as it is seen from {seenFrom(inFile.looks)}.
      </p>
      <select
        className="select select-xs w-full"
        aria-label="What stays where it is made wider"
        value={stays}
        onChange={(event) => setStays(event.target.value as Stays)}
      >
        <option value="middle">made wider to both sides</option>
        <option value="left">its left side stays</option>
        <option value="right">its right side stays</option>
      </select>
    </CorrectionForm>
  );
}

const AXES = ["east", "north-east", "north", "north-west", "west", "south-west", "south", "south-east"];

/** Where somebody stands who looks along a direction, by the model's axes: y is up on plan. */
function seenFrom([x, y]: Opening["looks"]): string {
  const turn = Math.round(Math.atan2(-y, -x) / (Math.PI / 4));
  return Math.hypot(x, y) < 0.1 ? "above, with x to the right" : `the ${AXES[(turn + 8) % 8]} of the model`;
}
