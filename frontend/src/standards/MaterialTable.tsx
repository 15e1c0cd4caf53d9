import { Trash2 } from "lucide-react";
import { useState } from "react";
import type { MaterialRule } from "../api/client";
import { NumberField } from "../fields/NumberField";
import type { EditProps } from "./HatchEditor";

const KEPT = new Set(["other", "earth"]); // what the drawing of every model rests on

/** The classes of material: how each is hatched and tinted, and what happens where faces meet. */
export function MaterialTable({ document, readOnly, onChange }: EditProps) {
  const [fresh, setFresh] = useState("");
  const hatches = Object.keys(document.hatches);
  const used = new Set(Object.values(document.kinds));
  const put = (key: string, part: Partial<MaterialRule>) => {
    const rule = document.materials[key];
    if (rule) onChange({ ...document, materials: { ...document.materials, [key]: { ...rule, ...part } } });
  };
  const remove = (key: string) => {
    const { [key]: _gone, ...kept } = document.materials;
    onChange({ ...document, materials: kept });
  };
  const add = () => {
    const key = fresh.trim().toLowerCase();
    if (!key || key in document.materials) return;
    const rule: MaterialRule = {
      hatch: "general",
      hatch_across: "",
      pattern: "",
      seen_tint: null,
      tint: "#e6e4dd",
      strength: 30,
      structure: false,
      merge: true,
      words: [key],
      weak_words: [],
    };
    onChange({ ...document, materials: { ...document.materials, [key]: rule } });
    setFresh("");
  };
  return (
    <fieldset disabled={readOnly} className="h-full overflow-auto p-3">
      <table className="table table-xs" aria-label="Materials">
        <thead>
          <tr>
            <th>Material</th>
            <th>Tint</th>
            <th>Hatch</th>
            <th>Cut across</th>
            <th title="The tint of its seen side; the cut's where none is set">Seen tint</th>
            <th title="The pattern of its seen side">Pattern</th>
            <th title="Who keeps the place where cut faces overlap">Strength</th>
            <th title="The heavier outline">Structure</th>
            <th title="No line between like neighbours">Merges</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {Object.entries(document.materials).map(([key, rule]) => (
            <tr key={key}>
              <th scope="row" className="font-semibold">
                {key}
              </th>
              <td>
                <input
                  type="color"
                  className="h-5 w-8 cursor-pointer"
                  aria-label={`Tint of ${key}`}
                  value={rule.tint}
                  onChange={(event) => put(key, { tint: event.target.value })}
                />
              </td>
              <td>
                <HatchChoice
                  label={`Hatch of ${key}`}
                  value={rule.hatch}
                  hatches={hatches}
                  onChange={(hatch) => put(key, { hatch })}
                />
              </td>
              <td>
                <HatchChoice
                  label={`Hatch of ${key} cut across`}
                  value={rule.hatch_across}
                  hatches={["", ...hatches]}
                  onChange={(hatch_across) => put(key, { hatch_across })}
                />
              </td>
              <td>
                <input
                  type="color"
                  className="h-5 w-8 cursor-pointer"
                  aria-label={`Seen tint of ${key}`}
                  value={rule.seen_tint ?? rule.tint}
                  onChange={(event) => put(key, { seen_tint: event.target.value })}
                />
              </td>
              <td>
                <HatchChoice
                  label={`Pattern of ${key}`}
                  value={rule.pattern}
                  hatches={["", ...hatches]}
                  none="none"
                  onChange={(pattern) => put(key, { pattern })}
                />
              </td>
              <td className="w-20">
                <NumberField
                  label={`Strength of ${key}`}
                  wide={false}
                  least={0}
                  most={1000}
                  value={rule.strength}
                  onChange={(strength) => put(key, { strength })}
                />
              </td>
              {(["structure", "merge"] as const).map((flag) => (
                <td key={flag}>
                  <input
                    type="checkbox"
                    className="checkbox checkbox-xs"
                    aria-label={`${key}: ${flag}`}
                    checked={rule[flag]}
                    onChange={(event) => put(key, { [flag]: event.target.checked })}
                  />
                </td>
              ))}
              <td>
                {!KEPT.has(key) && !used.has(key) && (
                  <button
                    type="button"
                    className="btn btn-ghost btn-xs btn-square"
                    aria-label={`Delete ${key}`}
                    onClick={() => remove(key)}
                  >
                    <Trash2 size={12} />
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-2 flex gap-1">
        <input
          className="input input-xs w-48"
          aria-label="Name of a new material"
          placeholder="Another material"
          value={fresh}
          onChange={(event) => setFresh(event.target.value)}
          onKeyDown={(event) => event.key === "Enter" && add()}
        />
        <button type="button" className="btn btn-xs" onClick={add}>
          Add
        </button>
      </div>
    </fieldset>
  );
}

function HatchChoice(props: {
  label: string;
  value: string;
  hatches: string[];
  none?: string;
  onChange: (hatch: string) => void;
}) {
  return (
    <select
      className="select select-xs w-36"
      aria-label={props.label}
      value={props.value}
      onChange={(event) => props.onChange(event.target.value)}
    >
      {props.hatches.map((name) => (
        <option key={name} value={name}>
          {name || (props.none ?? "as along")}
        </option>
      ))}
    </select>
  );
}
