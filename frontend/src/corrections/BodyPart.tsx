import { useState } from "react";
import type { BodyCorrection, Project, RunCorrection } from "../api/client";
import { correct, NOW, withCorrection } from "../api/corrections";
import { LengthField } from "../fields/LengthField";
import { NumberField } from "../fields/NumberField";
import { Part } from "../fields/Part";
import { TextField } from "../fields/TextField";
import { type Drawn, pathOf, useDrawn } from "./body";
import { CorrectionForm } from "./CorrectionForm";
import { MaterialField, OF_NOTHING } from "./MaterialField";
import { useTryOut } from "./trying";

const KINDS = [
  "wall",
  "slab",
  "column",
  "beam",
  "member",
  "footing",
  "covering",
  "accessory",
  "object",
  "ground",
] as const;
const LONG = 1; // metres that a body first reaches before its section, and behind it
const WIDE = 0.1; // metres that a run is wide at first
const THIN = 0.002; // metres that one is wide at least
const HIGH = 2.5; // metres that one on a plan is high at first

/** What an outline that was drawn shall be: a body that is in no file. */
export function BodyPart({ project }: { project: Project }) {
  const drawn = useDrawn((s) => s.drawn);
  if (drawn?.project !== project.id) return null;
  return (
    <Part title="New body">
      <Body key={JSON.stringify(drawn.outline)} project={project} drawn={drawn} />
    </Part>
  );
}

function Body({ project, drawn }: { project: Project; drawn: Drawn }) {
  const { along } = drawn;
  const [name, setName] = useState("New body");
  const [kind, setKind] = useState<BodyCorrection["kind"]>("covering");
  const [of, setOf] = useState(OF_NOTHING);
  const material = of.material.trim();
  const [start, setStart] = useState(drawn.onPlan ? 0 : LONG);
  const [end, setEnd] = useState(drawn.onPlan ? HIGH : LONG);
  const [reason, setReason] = useState("");
  const [round, setRound] = useState(true);
  const [wide, setWide] = useState(WIDE);
  const [high, setHigh] = useState(WIDE);
  const [fall, setFall] = useState(0);
  const [from, to] = drawn.onPlan ? [start, end] : [-start, end];
  const ready = material !== "" && (along || to - from > 1e-4);
  const { at, x, y } = drawn.plane;
  const said = { body: "", name, kind, material, is_a: of.is_a, reason, ...NOW };
  const wanted: BodyCorrection | RunCorrection = along
    ? { ...said, path: pathOf(drawn, start, fall), wide, high: round ? wide : high, round }
    : { ...said, outline: drawn.outline, at, x, y, start: from, end: to };
  useTryOut(ready ? withCorrection(project, null, wanted) : null);
  const leave = () => useDrawn.setState({ drawn: null });
  const [first, second] = drawn.onPlan ? ["From", "To"] : ["Behind", "Before"];
  return (
    <CorrectionForm
      label="Body as it shall be"
      reason={reason}
      onReason={setReason}
      act="Build it"
      ready={ready}
      kept={false}
      onDraw={() => {
        leave();
        correct(project, null, wanted);
      }}
      onTakeBack={leave}
      onLeave={leave}
    >
      <TextField label="Name" labelWidth="w-16" value={name} most={200} onEnter={setName} />
      <label className="flex items-center gap-2">
        <span className="w-16 shrink-0 opacity-80">What it is</span>
        <select
          className="select select-xs min-w-0 flex-1"
          aria-label="What it is"
          value={kind}
          onChange={(event) => setKind(event.target.value as BodyCorrection["kind"])}
        >
          {KINDS.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      </label>
      <MaterialField project={project.id} of={of} onChange={setOf} />
      {drawn.outline.length > 2 && (
        <select
          className="select select-xs w-full"
          aria-label="What becomes of the points"
          value={along ? "along" : "outline"}
          onChange={(event) =>
            useDrawn.setState({ drawn: { ...drawn, along: event.target.value === "along" } })
          }
        >
          <option value="outline">an outline, extruded</option>
          <option value="along">a run along these points</option>
        </select>
      )}
      {along ? (
        <>
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={round}
              onChange={() => setRound(!round)}
            />
            round
          </label>
          <LengthField
            label={round ? "Across" : "Width"}
            value={wide}
            least={THIN}
            onChange={(m) => setWide(m ?? WIDE)}
          />
          {!round && (
            <LengthField label="Height" value={high} least={THIN} onChange={(m) => setHigh(m ?? WIDE)} />
          )}
          {drawn.onPlan && <LengthField label="From" value={start} onChange={(m) => setStart(m ?? 0)} />}
          <NumberField label="Fall" unit="%" value={fall} least={-100} most={100} onChange={setFall} />
          <p className="opacity-80">
            Its middle runs along these points
            {drawn.onPlan && ", first so high above the floor of its storey"}.
          </p>
        </>
      ) : (
        <>
          <LengthField label={`${first}`} value={start} onChange={(metres) => setStart(metres ?? 0)} />
          <LengthField label={`${second}`} value={end} onChange={(metres) => setEnd(metres ?? 0)} />
          <p className="opacity-80">
            {drawn.onPlan
              ? "Above the floor of its storey."
              : "How far it reaches behind what is drawn, and before it."}
          </p>
        </>
      )}
    </CorrectionForm>
  );
}
