import { useQuery } from "@tanstack/react-query";
import type { Project } from "../../api/client";
import { elementsOf } from "../../api/elements";
import { BuildUpPart } from "../../corrections/BuildUpPart";
import { ElementsPart } from "../../corrections/ElementsPart";
import { FlatFacesPart } from "../../corrections/FlatFacesPart";
import { FILLS, OpeningPart } from "../../corrections/OpeningPart";
import { StepsPart } from "../../corrections/StepsPart";
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
  const { data } = useQuery({
    queryKey: ["element", project.id, guid],
    enabled: guid !== null,
    queryFn: () => elementsOf(project.id, [guid as string]),
  });
  const element = guid ? data?.[0] : undefined;
  return (
    element && (
      <Part title="Picked">
        <ElementFacts element={element} />
        <MaterialIs key={element.guid} project={project.id} elements={[element]} />
        <BuildUpPart key={`layers ${element.guid}`} project={project.id} elements={[element]} />
        <FlatFacesPart key={`faces ${element.guid}`} project={project} element={element} />
        <ElementsPart key={`place ${element.guid}`} project={project.id} elements={[element]} />
        {FILLS.has(element.kind) && (
          <OpeningPart key={`opening ${element.guid}`} project={project.id} element={element} />
        )}
        {element.kind === "stair" && (
          <StepsPart key={`steps ${element.guid}`} project={project.id} element={element} />
        )}
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
