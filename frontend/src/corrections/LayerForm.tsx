import { useState } from "react";
import type { FaceHandle, LayerOnFace, Project } from "../api/client";
import { correct, NOW, withCorrection } from "../api/corrections";
import { LengthField } from "../fields/LengthField";
import { TextField } from "../fields/TextField";
import { CorrectionForm } from "./CorrectionForm";
import { MaterialField, OF_NOTHING } from "./MaterialField";
import { useTryOut } from "./trying";

const THICK = 0.05; // metres that a layer is thick at first
const THIN = 0.0005; // metres that one is thick at least

type Props = { project: Project; element: string; face: Pick<FaceHandle, "face">; onDone: () => void };

/** A layer on a held face, which is in no file: it goes where the face goes. */
export function LayerForm({ project, element, face, onDone }: Props) {
  const [name, setName] = useState("New layer");
  const [of, setOf] = useState(OF_NOTHING);
  const [thickness, setThickness] = useState(THICK);
  const [typed, setTyped] = useState<number | null>(null);
  const [reason, setReason] = useState("");
  const wanted: LayerOnFace = {
    body: "",
    name,
    kind: "covering",
    material: of.material.trim() || "New layer",
    is_a: of.is_a,
    element,
    on: face.face,
    thickness: typed ?? thickness,
    reason,
    ...NOW,
  };
  useTryOut(withCorrection(project, null, wanted));
  return (
    <CorrectionForm
      label="Layer on the face"
      reason={reason}
      onReason={setReason}
      act="Put it on"
      ready={of.material.trim() !== ""}
      kept={false}
      onDraw={() => {
        onDone();
        correct(project, null, wanted);
      }}
      onTakeBack={onDone}
      onLeave={onDone}
    >
      <TextField label="Name" labelWidth="w-16" value={name} most={200} onEnter={setName} />
      <MaterialField project={project.id} of={of} onChange={setOf} />
      <LengthField
        label="Thickness"
        value={thickness}
        least={THIN}
        whileTyped={setTyped}
        onChange={(metres) => {
          setTyped(null);
          setThickness(metres ?? THICK);
        }}
      />
    </CorrectionForm>
  );
}
