import type { ReactNode } from "react";
import type { Element } from "../api/client";
import { BuildUpPart } from "./BuildUpPart";
import { ElementsPart } from "./ElementsPart";
import { FILLS, OpeningPart } from "./OpeningPart";
import { StepsPart } from "./StepsPart";

type Props = {
  project: number;
  elements: Element[];
  /** Called once something of them is asked to stand elsewhere, or not to be there. */
  onCorrected?: () => void;
  /** What the place where they were picked can ask beside. */
  children?: ReactNode;
};

/** What can be put right of what was picked, wherever that was. */
export function CorrectionsPart({ project, elements, onCorrected, children }: Props) {
  const [first] = elements;
  const one = elements.length === 1 ? first : undefined;
  const who = elements.length > 1 ? "several" : first?.guid;
  return (
    <>
      <BuildUpPart key={`layers ${who}`} project={project} elements={elements} />
      <ElementsPart key={`place ${who}`} project={project} elements={elements} onCorrected={onCorrected} />
      {children}
      {one && FILLS.has(one.kind) && <OpeningPart key={`opening ${who}`} project={project} element={one} />}
      {one?.kind === "stair" && <StepsPart key={`steps ${who}`} project={project} element={one} />}
    </>
  );
}
