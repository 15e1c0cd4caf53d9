import {
  ArrowLeftRight,
  Box,
  Columns2,
  PanelBottom,
  PanelLeft,
  PanelRight,
  Rows2,
  Ruler,
  Square,
} from "lucide-react";
import { useCommand } from "../../shell/commands";
import { type Fold, useDesk } from "./desk";

const FOLDS: [Fold, typeof PanelLeft, string][] = [
  ["lineage", PanelLeft, "["],
  ["particulars", PanelRight, "]"],
  ["shelf", PanelBottom, "\\"],
];

/** Arranges panes and columns, by mouse and key. */
export function DeskTools({ canAlign, drafting }: { canAlign: boolean; drafting: boolean }) {
  const { panes, way, aligned, model, folded, swapped, set, fold } = useDesk();
  const acts = {
    one: () => set({ panes: 1 }),
    two: () => set({ panes: 2 }),
    way: () => set({ way: way === "beside" ? "stacked" : "beside", panes: 2 }),
    swap: () => set({ swapped: !swapped }),
    model: () => set({ model: !model }),
    align: () => set({ aligned: !aligned, panes: 2 }),
  };
  const command = (name: string, key: string, run: () => void) => ({
    name,
    group: "Panes",
    keys: key,
    enabled: !drafting,
    run,
  });
  useCommand(command("One pane", "1", acts.one));
  useCommand(command("Two panes", "2", acts.two));
  useCommand(command("Panes side by side, or stacked", "s", acts.way));
  useCommand(command("Swap the panes", "x", acts.swap));
  useCommand(command("The model as a third pane", "3", acts.model));
  useCommand(command("Align the panes", "a", acts.align));
  useCommand(command("Show or fold away the lineage", "[", () => fold("lineage")));
  useCommand(command("Show or fold away the particulars", "]", () => fold("particulars")));
  useCommand(command("Show or fold away the shelf", "\\", () => fold("shelf")));
  const button = (on: boolean) => `btn btn-xs btn-square ${on ? "btn-active" : "btn-ghost"}`;
  return (
    // biome-ignore lint/a11y/useSemanticElements: a bar of tools is no set of fields
    <div role="group" aria-label="Arrangement" className="flex items-center gap-0.5">
      <button
        type="button"
        className={button(panes === 1)}
        aria-pressed={panes === 1}
        onClick={panes === 1 ? acts.two : acts.one}
        aria-label="One pane"
        title="One pane (1), two panes (2)"
      >
        <Square size={13} />
      </button>
      <button
        type="button"
        className={button(false)}
        onClick={acts.way}
        aria-label={way === "beside" ? "Stack the panes" : "Panes side by side"}
        title={`${way === "beside" ? "Stack the panes" : "Panes side by side"} (S)`}
      >
        {way === "beside" ? <Rows2 size={13} /> : <Columns2 size={13} />}
      </button>
      <button
        type="button"
        className={button(swapped)}
        aria-pressed={swapped}
        onClick={acts.swap}
        aria-label="Swap the panes"
        title="Swap the panes (X)"
      >
        <ArrowLeftRight size={13} />
      </button>
      <button
        type="button"
        className={button(aligned)}
        aria-pressed={aligned}
        onClick={acts.align}
        aria-label="Align the panes"
        title={
          aligned && !canAlign
            ? "Aligned panes: these two drawings share no axis"
            : "Align the panes on one axis, as in projection (A)"
        }
      >
        <Ruler size={13} className={aligned && !canAlign ? "opacity-40" : ""} />
      </button>
      <button
        type="button"
        className={button(model)}
        aria-pressed={model}
        onClick={acts.model}
        aria-label="The model as a third pane"
        title="The model as a third pane (3)"
      >
        <Box size={13} />
      </button>
      <span className="mx-1 h-4 border-l border-base-300" />
      {FOLDS.map(([part, Glyph, key]) => (
        <button
          key={part}
          type="button"
          className={button(!folded[part])}
          aria-pressed={!folded[part]}
          onClick={() => fold(part)}
          aria-label={`Show the ${part}`}
          title={`${folded[part] ? "Show" : "Fold away"} the ${part} (${key})`}
        >
          <Glyph size={13} />
        </button>
      ))}
    </div>
  );
}
