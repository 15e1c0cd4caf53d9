import { useState } from "react";
import { storePicture } from "../api/annotations";
import type { Standard } from "../api/client";
import { report } from "../api/queries";
import { useLengths } from "../fields/lengths";
import { type Options, useAnnotate } from "./state";
import { hintFor, STEPS } from "./steps";
import { annotate, type Place } from "./tools";

/** While a tool is in hand: its next step, and what can be chosen for it. */
export function ToolFoot({ project, standard }: { project: number; standard: Standard | undefined }) {
  const { options, setOptions } = useAnnotate();
  const inHand = annotate.use();
  if (!inHand) return null;
  const { tool, picks } = inHand;
  const rules = standard?.document;
  const pick = <K extends keyof Options>(label: string, key: K, values: readonly string[]) => (
    <select
      aria-label={label}
      className="select select-xs w-24 shrink-0"
      value={String(options[key])}
      onChange={(event) => setOptions({ [key]: event.target.value } as Partial<Options>)}
    >
      {values.map((value) => (
        <option key={value}>{value}</option>
      ))}
    </select>
  );
  const hatches = Object.keys(rules?.hatches ?? {});
  return (
    <span className="flex items-center gap-1.5">
      <span className="line-clamp-2 min-w-0 flex-1" title={hintFor(tool, picks.length)}>
        {hintFor(tool, picks.length)}
      </span>
      {(tool === "dimension" || tool === "running") &&
        pick("Direction", "way", ["by itself", "across", "up", "aligned"])}
      {tool === "slope" && pick("Written as", "slope", ["percent", "ratio", "degrees"])}
      {tool === "line" && pick("Form", "form", ["polyline", "rectangle", "arc", "spline", "cloud"])}
      {tool === "line" && pick("Line type", "lineType", Object.keys(rules?.annotations?.line_types ?? {}))}
      {tool === "area" && pick("Form", "form", ["polyline", "rectangle", "spline"])}
      {(tool === "area" || tool === "hatch") && pick("Hatch", "hatch", hatches)}
      {tool === "symbol" && pick("Symbol", "symbol", Object.keys(rules?.annotations?.symbols ?? {}))}
      {tool === "restyle" && (
        <>
          <input
            type="color"
            aria-label="Ink"
            className="size-6 shrink-0"
            value={options.ink}
            onChange={(event) => setOptions({ ink: event.target.value })}
          />
          <select
            aria-label="Width"
            className="select select-xs w-20 shrink-0"
            value={options.width}
            onChange={(event) => setOptions({ width: Number(event.target.value) })}
          >
            {[0.13, 0.18, 0.25, 0.35, 0.5, 0.7, 1].map((width) => (
              <option key={width} value={width}>
                {width} mm
              </option>
            ))}
          </select>
        </>
      )}
      {tool === "picture" && <PictureChoice project={project} />}
      {(STEPS[tool].lines ?? 0) > 0 && picks.length > 0 && <TypedLength />}
    </span>
  );
}

/** A length that is typed sets the next point in the direction of the pointer. */
function TypedLength() {
  const inHand = annotate.use();
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

function PictureChoice({ project }: { project: number }) {
  const { options, setOptions } = useAnnotate();
  return (
    <label className="btn btn-xs shrink-0">
      {options.picture ? "Another picture" : "Choose a PNG"}
      <input
        type="file"
        accept="image/png"
        className="hidden"
        onChange={async (event) => {
          const file = event.target.files?.[0];
          if (!file) return;
          try {
            const kept = await storePicture(project, file);
            setOptions({ picture: { name: kept.name, share: kept.height / kept.width } });
          } catch (error) {
            report(error);
          }
        }}
      />
    </label>
  );
}
