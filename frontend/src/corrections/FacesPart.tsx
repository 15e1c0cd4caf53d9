import { useEffect, useState } from "react";
import type { Cut, Drawing, Element, FaceCorrection, Project, Style } from "../api/client";
import { correct, facesOf, useFaces, withCorrection } from "../api/corrections";
import { report } from "../api/queries";
import { LengthField } from "../fields/LengthField";
import { CorrectionForm } from "./CorrectionForm";
import { faceTo, firstMet, letGoOfFaces, movedOut, samePlane, useHolding } from "./holding";
import { LayerForm } from "./LayerForm";
import { saidOf } from "./said-of";
import { useTryOut } from "./trying";

type Props = {
  project: Project;
  drawing: Drawing;
  spec: { cut: Cut; style: Style };
  element: Element;
  /** Another element that was picked after this one, if any: what a face may be led up to. */
  other: Element | undefined;
};

/** The faces of what was picked, to be pushed or pulled by their grips in the drawing, or by a length. */
export function FacesPart({ project, drawing, spec, element, other }: Props) {
  const { of, face, by } = useHolding();
  const open = of?.element === element.guid && of.drawing === drawing.id;
  const { data } = useFaces(project, drawing, spec, open ? element.guid : undefined);
  const stale = of !== null && !open;
  useEffect(() => {
    if (stale) letGoOfFaces(); // something else was picked
  }, [stale]);
  useEffect(() => letGoOfFaces, []);
  if (!open)
    return (
      <button
        type="button"
        className="link self-start text-xs"
        onClick={() =>
          useHolding.setState({ of: { element: element.guid, drawing: drawing.id }, face: null, by: 0 })
        }
      >
        Push or pull its faces
      </button>
    );
  if (!data) return null;
  if (data.why_not) return <p className="text-xs text-warning">! {data.why_not}</p>;
  if (!face)
    return (
      <p className="text-xs opacity-80">Drag the grip of a face in the drawing, or click one to type.</p>
    );
  return (
    <FaceForm
      key={`${face.face.looks.join()} ${face.face.at} ${saidOf(project.corrections, [element.guid])}`}
      {...{ project, spec, element, other, by }}
      faces={data.faces}
    />
  );
}

type FaceProps = Pick<Props, "project" | "element"> & {
  /** In which drawing, where there is one, and what else is picked there. */
  spec?: Props["spec"];
  other?: Element;
  by: number;
  faces: { face: FaceCorrection["face"] }[];
};

/** The face that is held: elsewhere by a length, up to something else, or with a layer on it. */
export function FaceForm({ project, spec, element, other, by, faces }: FaceProps) {
  const face = useHolding((s) => s.face);
  const kept = face && keptOf(project, element.guid, face.face);
  const [reason, setReason] = useState(kept?.reason ?? "");
  const [typed, setTyped] = useState<number | null>(null);
  const [layer, setLayer] = useState(false);
  const now = typed ?? by;
  const wanted = face && now !== 0 ? faceTo(element.guid, face, movedOut(face, now), { reason }) : null;
  useTryOut(wanted && !layer ? withCorrection(project, kept ?? null, wanted) : null);
  if (!face || !faces.some((one) => samePlane(one.face, face.face)))
    return (
      <p className="text-xs opacity-80">Drag the grip of a face in the drawing, or click one to type.</p>
    );
  if (layer)
    return <LayerForm project={project} element={element.guid} face={face} onDone={() => setLayer(false)} />;
  const out = kept ? kept.to.at - kept.face.at : 0;
  const draw = (one: FaceCorrection) => {
    letGoOfFaces();
    correct(project, kept ?? null, one);
  };
  const leadUp = async () => {
    if (!other || !spec || !("start" in face)) return;
    try {
      const { faces: met } = await facesOf(project.id, spec, other.guid, true);
      const to = firstMet(face, met);
      if (to) draw(faceTo(element.guid, face, to, { reason, onto: other.name || other.kind }));
      else report(new Error(`Pulled out, this face meets no face of ${other.name || other.kind}.`));
    } catch (error) {
      report(error);
    }
  };
  return (
    <CorrectionForm
      label="Where the face shall lie"
      reason={reason}
      onReason={setReason}
      ready={wanted !== null || (kept !== undefined && kept !== null && reason !== (kept.reason ?? ""))}
      onDraw={() => {
        const as = wanted ?? (kept && { ...kept, reason });
        if (as) draw(as);
      }}
      kept={kept !== null && kept !== undefined}
      onTakeBack={() => {
        letGoOfFaces();
        correct(project, kept ?? null, null);
      }}
      onLeave={() => useHolding.setState({ face: null, by: 0 })}
    >
      {kept && Math.abs(out) > 0 && <Said kept={kept} />}
      <LengthField
        label="Outwards by"
        value={by}
        whileTyped={setTyped}
        onChange={(metres) => {
          setTyped(null);
          useHolding.setState({ by: metres ?? 0 });
        }}
      />
      <button type="button" className="link self-start" onClick={() => setLayer(true)}>
        Put a layer on it
      </button>
      {other ? (
        <button type="button" className="btn btn-xs self-start" onClick={leadUp}>
          Up to {other.name || other.kind}
        </button>
      ) : (
        spec && <p className="opacity-80">With Shift pick what it shall end at, to lead it up to that.</p>
      )}
    </CorrectionForm>
  );
}

function Said({ kept }: { kept: FaceCorrection }) {
  return kept.onto ? (
    <p className="opacity-80">led up to {kept.onto}</p>
  ) : (
    <p className="opacity-80">moved by a correction</p>
  );
}

/** The correction of a face of an element, if there is one. */
export const keptOf = (project: Project, element: string, face: FaceCorrection["face"]) =>
  (project.corrections.filter((one) => "face" in one) as FaceCorrection[]).find(
    (one) => one.element === element && samePlane(one.face, face),
  );
