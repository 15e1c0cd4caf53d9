import type { Project } from "../api/client";
import { useElement } from "../api/elements";
import { BuildUpPart } from "../corrections/BuildUpPart";
import { CorrectionsPart } from "../corrections/CorrectionsPart";
import { ElementFacts } from "../drawing/ElementFacts";
import { Part } from "../fields/Part";
import { MaterialIs } from "../materials/MaterialIs";
import { rowOf } from "./row-of";

/** What the picked row is of, and what can be put right of it: an element, or a build-up by one of its layers. */
export function PickedRow({ project, target }: { project: Project; target: string }) {
  const { element: guid, buildUp } = rowOf(target);
  const element = useElement(project.id, guid);
  if (buildUp)
    return (
      <Part title="Picked">
        <p>{buildUp}</p>
        <BuildUpPart key={buildUp} project={project.id} elements={[]} name={buildUp} />
      </Part>
    );
  if (!element) return null;
  return (
    <Part title="Picked">
      <ElementFacts element={element} />
      <MaterialIs key={element.guid} project={project.id} elements={[element]} />
      <CorrectionsPart project={project.id} elements={[element]} />
    </Part>
  );
}
