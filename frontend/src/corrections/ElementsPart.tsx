import { useState } from "react";
import type { Element, MoveCorrection, Project } from "../api/client";
import { correct, NOW, withCorrection } from "../api/corrections";
import { useProject } from "../api/queries";
import { LengthField } from "../fields/LengthField";
import { NumberField } from "../fields/NumberField";
import { CopyForm } from "./CopyForm";
import { CorrectionForm } from "./CorrectionForm";
import { MaterialForm } from "./MaterialForm";
import { FILLS } from "./OpeningPart";
import { saidOf } from "./said-of";
import { useTryOut } from "./trying";

const AXES = ["Along x", "Along y", "Up"] as const;

type ElementsProps = {
  project: number;
  elements: Element[];
  /** Called once something of them is asked to be otherwise: they may not be where they were, or not be there. */
  onCorrected?: () => void;
};

/** What was picked, to stand elsewhere, or not to be there at all: a wish to the model that every drawing shows. */
export function ElementsPart({ project, elements, onCorrected }: ElementsProps) {
  const [open, setOpen] = useState<"" | "move" | "copy" | "material" | "leave out">("");
  const { data: of } = useProject(project);
  if (!of || elements.length === 0) return null;
  const them = elements.length > 1 ? "them" : "it";
  if (!open)
    return (
      <span className="flex flex-wrap gap-x-3 text-xs">
        <button type="button" className="link" onClick={() => setOpen("move")}>
          Put {them} elsewhere
        </button>
        <button type="button" className="link" onClick={() => setOpen("copy")}>
          Copy {them}
        </button>
        {elements.every((one) => one.build_up === "") && (
          <button type="button" className="link" onClick={() => setOpen("material")}>
            Another material
          </button>
        )}
        <button type="button" className="link" onClick={() => setOpen("leave out")}>
          Take {them} out of the model
        </button>
      </span>
    );
  const fills = elements.every((one) => FILLS.has(one.kind));
  const guids = elements.map((element) => element.guid);
  const said = saidOf(of.corrections, guids);
  const close = (corrected: boolean) => {
    setOpen("");
    if (corrected) onCorrected?.();
  };
  if (open === "copy")
    return (
      <CopyForm
        key={said}
        project={of}
        guids={guids}
        storey={elements[0]?.storey ?? ""}
        fills={fills}
        onDone={() => setOpen("")}
      />
    );
  if (open === "material")
    return <MaterialForm key={said} project={of} guids={guids} onDone={() => setOpen("")} />;
  return open === "move" ? (
    <Move key={said} project={of} guids={guids} fills={fills} onDone={close} />
  ) : (
    <TakeOut project={of} guids={guids} onDone={close} />
  );
}

type Props = { project: Project; guids: string[]; onDone: (corrected: boolean) => void };

function Move({ project, guids, fills, onDone }: Props & { fills: boolean }) {
  const moves = project.corrections.filter((one) => "by" in one) as MoveCorrection[];
  const those = moves.filter((one) => one.elements.some((guid) => guids.includes(guid)));
  const kept = those[0];
  const [by, setBy] = useState<number[]>([...(kept?.by ?? [0, 0, 0])]);
  const [turn, setTurn] = useState(kept?.turn ?? 0);
  const [reason, setReason] = useState(kept?.reason ?? "");
  const [typed, setTyped] = useState<{ at: number; metres: number } | null>(null);
  const elements = kept?.elements ?? guids;
  const [x = 0, y = 0, z = 0] = by.map((one, k) => (typed?.at === k ? typed.metres : one));
  const wanted: MoveCorrection = {
    elements,
    by: [x, y, z],
    turn,
    stood: kept?.stood ?? [],
    reason,
    ...NOW,
  };
  const somewhere = x !== 0 || y !== 0 || z !== 0 || turn % 360 !== 0;
  const asDrawn =
    JSON.stringify([x, y, z, turn]) === JSON.stringify([...(kept?.by ?? [0, 0, 0]), kept?.turn ?? 0]);
  useTryOut(asDrawn ? null : withCorrection(project, kept ?? null, somewhere ? wanted : null));
  if (those.length > 1)
    return (
      <p className="text-xs text-warning">
        ! These are put elsewhere by {those.length} corrections; pick those of one, or take one back.
      </p>
    );
  const others = elements.filter((guid) => !guids.includes(guid)).length;
  return (
    <CorrectionForm
      label="Where it shall stand"
      reason={reason}
      onReason={setReason}
      ready={somewhere}
      kept={kept !== undefined}
      onDraw={() => {
        correct(project, kept ?? null, wanted);
        onDone(true);
      }}
      onTakeBack={() => {
        correct(project, kept ?? null, null);
        onDone(true);
      }}
      onLeave={() => onDone(false)}
    >
      {others > 0 && <p className="opacity-80">together with {others} more</p>}
      {fills && (
        <p className="opacity-80">
          The opening in its wall stays: “Another size or place for its opening” takes both along.
        </p>
      )}
      {AXES.map((axis, k) => (
        <LengthField
          key={axis}
          label={axis}
          value={by[k] ?? 0}
          whileTyped={(metres) => setTyped({ at: k, metres })}
          onChange={(metres) => {
            setTyped(null);
            setBy(by.map((one, n) => (n === k ? (metres ?? 0) : one)));
          }}
        />
      ))}
      <NumberField label="Turned by" unit="°" value={turn} least={-360} most={360} onChange={setTurn} />
    </CorrectionForm>
  );
}

function TakeOut({ project, guids, onDone }: Props) {
  const [reason, setReason] = useState("");
  return (
    <CorrectionForm
      label="To be taken out"
      reason={reason}
      onReason={setReason}
      act="Take out"
      ready
      kept={false}
      onDraw={() => {
        correct(project, null, { elements: guids, left_out: true, reason, ...NOW });
        onDone(true);
      }}
      onTakeBack={() => onDone(false)}
      onLeave={() => onDone(false)}
    >
      <p className="opacity-80">
        Out of every drawing, table and quantity of the project. It stays in the list of corrections, beside
        the revisions, with a way back.
      </p>
    </CorrectionForm>
  );
}
