import { useState } from "react";
import type { Standard } from "../api/client";
import { useLengths } from "../fields/lengths";
import { hintFor, kindOf } from "./kinds/kinds";
import { annotate, type Place } from "./tools";

/** While a tool is in hand: its next step, and what can be chosen for it. */
export function ToolFoot({ project, standard }: { project: number; standard: Standard | undefined }) {
  const inHand = annotate.useHeld();
  if (!inHand) return null;
  const { tool, picks } = inHand;
  const kind = kindOf(tool);
  if (!kind) return null;
  const hint = hintFor(kind, picks.length);
  return (
    <span className="flex items-center gap-1.5">
      <span className="line-clamp-2 min-w-0 flex-1" title={hint}>
        {hint}
      </span>
      {kind.Choices && <kind.Choices project={project} standard={standard} />}
      {kind.drawn && picks.length > 0 && <TypedLength />}
    </span>
  );
}

/** A length that is typed sets the next point in the direction of the pointer. */
function TypedLength() {
  const inHand = annotate.useHeld();
  const { parse, example } = useLengths();
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState(false);
  const enter = () => {
    const metres = parse(text);
    const last = inHand?.picks.at(-1)?.at;
    const pointer = inHand?.pointer;
    if (metres === null || !last || !pointer) {
      setWrong(true);
      return;
    }
    const [du, dv] = [pointer.at[0] - last[0], pointer.at[1] - last[1]];
    const far = Math.hypot(du, dv) || 1;
    const at: Place = [last[0] + (du / far) * metres * 1000, last[1] + (dv / far) * metres * 1000];
    annotate.set({ ...inHand, picks: [...inHand.picks, { at, snap: null }] });
    setText("");
    setWrong(false);
  };
  return (
    <input
      aria-label="Length of the next stretch"
      title={`Type a length like ${example}, then Enter`}
      placeholder="length"
      className={`input input-xs figures w-20 shrink-0 ${wrong ? "input-error" : ""}`}
      value={text}
      onChange={(event) => {
        setText(event.target.value);
        setWrong(false);
      }}
      onKeyDown={(event) => {
        if (event.key !== "Enter" || text === "") return;
        event.stopPropagation();
        enter();
      }}
    />
  );
}
