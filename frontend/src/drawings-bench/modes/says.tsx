import { createElement } from "react";
import type { DrawingKind } from "../../api/client";
import { RuleChoice } from "./RuleChoice";
import type { Pane } from "./tool";

type Said = { words: string; makes: DrawingKind | undefined; pane: Pane };

function Words({ words, makes, pane }: Said) {
  return (
    <>
      {words}
      {makes && <RuleChoice project={pane.project.id} kind={makes} />}
    </>
  );
}

/** The foot of a tool whose next step is always the same; by which rule, where it `makes` drawings. */
export const says =
  (words: string, makes?: DrawingKind) =>
  ({ pane }: { pane: Pane }) =>
    createElement(Words, { words, makes, pane });
