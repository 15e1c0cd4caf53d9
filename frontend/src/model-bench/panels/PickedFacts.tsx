import type { Project } from "../../api/client";
import { useElement } from "../../api/elements";
import { CorrectionsPart } from "../../corrections/CorrectionsPart";
import { FlatFacesPart } from "../../corrections/FlatFacesPart";
import { ElementFacts } from "../../drawing/ElementFacts";
import { InTables } from "../../drawing/InTables";
import { Part } from "../../fields/Part";
import { MaterialIs } from "../../materials/MaterialIs";

type Props = {
  project: Project;
  guid: string | null;
  /** How many lie under the pointer, and which of them it is. */
  many: number;
  at: number;
  onNext: () => void;
  onNear: () => void;
  onHide: (guid: string) => void;
  onHideKind: (kind: string) => void;
};

/** What is picked, and what can be done with it. */
export function PickedFacts({ project, guid, many, at, ...acts }: Props) {
  const element = useElement(project.id, guid ?? "");
  return (
    element && (
      <Part title="Picked">
        <ElementFacts element={element} />
        <MaterialIs key={element.guid} project={project.id} elements={[element]} />
        <CorrectionsPart project={project.id} elements={[element]}>
          <FlatFacesPart key={`faces ${element.guid}`} project={project} element={element} />
        </CorrectionsPart>
        <InTables project={project.id} target={`element:${element.guid}`} />
        {many > 1 && (
          <button type="button" className="link self-start text-xs" onClick={acts.onNext}>
            {`${at + 1} of ${many}`} here; Tab goes to what lies behind
          </button>
        )}
        <div className="flex flex-wrap gap-1">
          <button type="button" className="btn btn-xs" onClick={acts.onNear}>
            Come near to it
          </button>
          <button type="button" className="btn btn-xs" onClick={() => acts.onHide(element.guid)}>
            Hide it here
          </button>
          <button type="button" className="btn btn-xs" onClick={() => acts.onHideKind(element.kind)}>
            Hide every {element.kind} here
          </button>
        </div>
      </Part>
    )
  );
}
