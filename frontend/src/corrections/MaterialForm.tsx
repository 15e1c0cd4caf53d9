import { useState } from "react";
import type { MaterialCorrection, Project } from "../api/client";
import { correct, NOW, useInFile, withCorrection } from "../api/corrections";
import { CorrectionForm } from "./CorrectionForm";
import { MaterialField, type Of } from "./MaterialField";
import { useTryOut } from "./trying";

type Props = { project: Project; guids: string[]; onDone: () => void };

/** What was picked, of another material: all of it, or what of it is of one. */
export function MaterialForm({ project, guids, onDone }: Props) {
  const said = project.corrections.filter((one) => "had" in one && "material" in one) as MaterialCorrection[];
  const kept = said.find((one) => one.elements.some((guid) => guids.includes(guid)));
  const { data, isError } = useInFile(project, guids[0] ?? "", true);
  const [of, setOf] = useState<Of>({ material: kept?.material ?? "", is_a: kept?.is_a ?? "" });
  const [part, setPart] = useState(kept?.in_place_of ?? "");
  const [reason, setReason] = useState(kept?.reason ?? "");
  if (isError) return <p className="text-xs text-warning">! It is in no file.</p>;
  if (!data) return null;
  if (data.layered)
    return <p className="text-xs text-warning">! It has layers: their materials are put right with them.</p>;
  const wanted: MaterialCorrection = {
    elements: kept?.elements ?? guids,
    material: of.material.trim(),
    is_a: of.is_a,
    in_place_of: part,
    had: [],
    reason,
    ...NOW,
  };
  const ready = wanted.material !== "" && wanted.material !== part;
  const asDrawn =
    wanted.material === (kept?.material ?? "") &&
    of.is_a === (kept?.is_a ?? "") &&
    part === (kept?.in_place_of ?? "");
  return (
    <CorrectionForm
      label="Of what it shall be"
      reason={reason}
      onReason={setReason}
      ready={ready && (!asDrawn || reason !== (kept?.reason ?? ""))}
      kept={kept !== undefined}
      onDraw={() => {
        correct(project, kept ?? null, wanted);
        onDone();
      }}
      onTakeBack={() => {
        correct(project, kept ?? null, null);
        onDone();
      }}
      onLeave={onDone}
    >
      <TryOut project={project} kept={kept ?? null} wanted={ready && !asDrawn ? wanted : null} />
      {data.materials.length > 1 && (
        <select
          className="select select-xs w-full"
          aria-label="Which part of it"
          value={part}
          onChange={(event) => setPart(event.target.value)}
        >
          <option value="">all of it</option>
          {data.materials.map((one) => (
            <option key={one} value={one}>
              what is of {one}
            </option>
          ))}
        </select>
      )}
      <MaterialField project={project.id} of={of} onChange={setOf} />
    </CorrectionForm>
  );
}

type Tried = { project: Project; kept: MaterialCorrection | null; wanted: MaterialCorrection | null };

function TryOut({ project, kept, wanted }: Tried) {
  useTryOut(wanted && withCorrection(project, kept, wanted));
  return null;
}
