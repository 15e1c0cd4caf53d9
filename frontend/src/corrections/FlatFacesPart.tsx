import { useEffect } from "react";
import type { Element, Project } from "../api/client";
import { useFlatFaces } from "../api/corrections";
import { FaceForm } from "./FacesPart";
import { IN_MODEL, letGoOfFaces, useHolding } from "./holding";
import { saidOf } from "./said-of";

/** The flat faces of what was picked in the model, to be pushed or pulled by their grips, or by a length. */
export function FlatFacesPart({ project, element }: { project: Project; element: Element }) {
  const { of, face, by } = useHolding();
  const open = of?.element === element.guid && of.drawing === IN_MODEL;
  const { data } = useFlatFaces(project, open ? element.guid : undefined);
  useEffect(() => letGoOfFaces, []);
  if (!open)
    return (
      <button
        type="button"
        className="link self-start text-xs"
        onClick={() =>
          useHolding.setState({ of: { element: element.guid, drawing: IN_MODEL }, face: null, by: 0 })
        }
      >
        Push or pull its faces
      </button>
    );
  if (!data) return null;
  if (data.why_not) return <p className="text-xs text-warning">! {data.why_not}</p>;
  if (!face)
    return <p className="text-xs opacity-80">Drag the grip of a face in the model, or click one to type.</p>;
  return (
    <FaceForm
      key={`${face.face.looks.join()} ${face.face.at} ${saidOf(project.corrections, [element.guid])}`}
      {...{ project, element, by }}
      faces={data.faces}
    />
  );
}
