import { useState } from "react";
import { Link } from "react-router";
import type { Cut, Settings, Standard, Style } from "../api/client";
import { Check, Choice } from "../fields/Choice";
import { useLengths } from "../fields/lengths";
import { NumberField } from "../fields/NumberField";
import { Part } from "../fields/Part";
import { scaleText } from "../fields/scale";

type Props = {
  project: number;
  cut: Cut;
  style: Style;
  settings: Settings;
  standards: Standard[];
  onSave: (change: { style: Style }) => void;
};

const FILLS = [
  ["material", "by material"],
  ["solid", "solid"],
  ["colour", "by colour"],
  ["none", "none"],
] as const;
const CONTENTS = [
  ["auto", "by scale"],
  ["outline", "outline"],
  ["layers", "layers"],
  ["membranes", "layers, membranes"],
] as const;

/** Scale, drawing standard, fills, and what stands at the edge. */
export function GraphicsPart({ project, cut, style, settings, standards, onSave }: Props) {
  const { lengths } = useLengths();
  const usual = lengths === "ft-in" ? settings.imperial_scales.map((s) => s.scale) : settings.scales;
  const scales = [...new Set([...usual, style.scale])].sort((a, b) => a - b);
  const toggles =
    cut.kind === "plan" ? (["grid", "rooms"] as const) : (["levels", "grid", "section_rooms"] as const);
  const words = {
    levels: "Level markers",
    grid: "Grid",
    rooms: "Room names",
    section_rooms: "Names of the rooms that are cut",
  };
  const save = (part: Partial<Style>) => onSave({ style: { ...style, ...part } });
  return (
    <Part title="Graphics">
      <Choice
        label="Scale"
        value={String(style.scale)}
        options={scales.map((s) => [String(s), scaleText(s)] as const)}
        onChange={(scale) => save({ scale: Number(scale) })}
      />
      <OtherScale onScale={(scale) => save({ scale })} />
      <Choice
        label="Standard"
        value={style.standard}
        options={standards.map((s) => [s.key, s.name] as const)}
        onChange={(standard) => save({ standard })}
      />
      <Link className="link text-xs" to={`/projects/${project}/standards/${style.standard}`}>
        Hatches, materials and pens of this standard
      </Link>
      <Choice label="Cut faces" value={style.fill} options={FILLS} onChange={(fill) => save({ fill })} />
      <Choice
        label="Content"
        value={style.content}
        options={CONTENTS}
        onChange={(content) => save({ content })}
      />
      {toggles.map((key) => (
        <Check
          key={key}
          label={words[key]}
          checked={style[key]}
          onChange={(on) => save({ [key]: on } as Partial<Style>)}
        />
      ))}
      {cut.kind === "plan" && cut.look === "down" && <ConventionFields style={style} onSave={onSave} />}
    </Part>
  );
}

const CONVENTIONS = {
  doors: "Doors open, with their swing",
  stairs: "Stairs with break, arrow and measures",
  windows: "Plain windows at small scales",
  heads: "Heads of openings left out",
  shafts: "Lifts and shafts crossed",
  voids: "Voids and rooflights crossed",
} as const;
type Convention = keyof typeof CONVENTIONS;

/** What a plan draws by the conventions of the trade; each may differ from the standard in this drawing. */
function ConventionFields({ style, onSave }: Pick<Props, "style" | "onSave">) {
  const own = style.conventions;
  return (
    <details className="text-xs">
      <summary className="cursor-pointer py-0.5">Conventions</summary>
      <div className="flex flex-col gap-1 py-1">
        {(Object.keys(CONVENTIONS) as Convention[]).map((key) => (
          <Check
            key={key}
            label={CONVENTIONS[key]}
            checked={own[key] ?? true}
            onChange={(on) =>
              onSave({ style: { ...style, conventions: { ...own, [key]: on ? null : false } } })
            }
          />
        ))}
      </div>
    </details>
  );
}

function OtherScale({ onScale }: { onScale: (scale: number) => void }) {
  const [typed, setTyped] = useState("");
  const own = Number(typed);
  const wrong = typed !== "" && !(own >= 0.1 && own <= 100_000);
  return (
    <>
      <label className="flex items-center gap-2">
        <span className="w-20 opacity-80">Other, 1:</span>
        <input
          className={`input input-xs figures min-w-0 flex-1 ${wrong ? "input-error" : ""}`}
          value={typed}
          inputMode="numeric"
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter" && typed !== "" && !wrong) {
              onScale(own);
              setTyped("");
            }
          }}
        />
      </label>
      {wrong && (
        <span role="alert" className="text-xs text-error">
          A scale is a number from 0.1 to 100000, like 75
        </span>
      )}
    </>
  );
}

type ExceptionProps = { style: Style; standard: Standard | undefined; onSave: Props["onSave"] };

/** What this drawing does differently from its standard: hatch and tint by class of material, widths by role. */
export function ExceptionsPart({ style, standard, onSave }: ExceptionProps) {
  if (!standard) return null;
  const { materials, pens, hatches } = standard.document;
  const save = (part: Partial<Style>) => onSave({ style: { ...style, ...part } });
  const without = <T,>(table: Record<string, T>, key: string) =>
    Object.fromEntries(Object.entries(table).filter(([k]) => k !== key));
  const add = (value: string) => {
    const [what, key] = value.split("|") as [string, string];
    if (what === "pen") save({ pens: { ...style.pens, [key]: pens[key]?.width.middle || 0.25 } });
    else
      save({
        materials: {
          ...style.materials,
          [key]: { hatch: materials[key]?.hatch ?? null, tint: null, merge: null },
        },
      });
  };
  return (
    <Part title="In this drawing only">
      {Object.entries(style.materials).map(([key, exception]) => (
        <MaterialRow
          key={key}
          name={key}
          exception={exception}
          tint={materials[key]?.tint ?? "#ffffff"}
          hatches={Object.keys(hatches)}
          onChange={(part) => save({ materials: { ...style.materials, [key]: { ...exception, ...part } } })}
          onRemove={() => save({ materials: without(style.materials, key) })}
        />
      ))}
      {Object.entries(style.pens).map(([role, width]) => (
        <div key={role} className="flex items-center gap-1">
          <NumberField
            label={role}
            unit="mm"
            least={0}
            most={5}
            value={width}
            onChange={(next) => save({ pens: { ...style.pens, [role]: next } })}
          />
          <Gone name={role} onClick={() => save({ pens: without(style.pens, role) })} />
        </div>
      ))}
      <select
        className="select select-xs"
        aria-label="Make an exception"
        value=""
        onChange={(event) => event.target.value && add(event.target.value)}
      >
        <option value="">Make an exception …</option>
        <optgroup label="Material">
          {Object.keys(materials)
            .filter((key) => !(key in style.materials))
            .map((key) => (
              <option key={key} value={`material|${key}`}>
                {key}
              </option>
            ))}
        </optgroup>
        <optgroup label="Pen">
          {Object.keys(pens)
            .filter((role) => !(role in style.pens))
            .map((role) => (
              <option key={role} value={`pen|${role}`}>
                {role}
              </option>
            ))}
        </optgroup>
      </select>
    </Part>
  );
}

function Gone({ name, onClick }: { name: string; onClick: () => void }) {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-xs px-1"
      aria-label={`${name} as in the standard`}
      onClick={onClick}
    >
      ×
    </button>
  );
}

type Exception = Style["materials"][string];
const MERGES = [
  ["by the standard", null],
  ["are one piece", true],
  ["show their joint", false],
] as const;

type MaterialProps = {
  name: string;
  exception: Exception;
  tint: string;
  hatches: string[];
  onChange: (part: Partial<Exception>) => void;
  onRemove: () => void;
};

function MaterialRow({ name, exception, tint, hatches, onChange, onRemove }: MaterialProps) {
  const merge = MERGES.find(([, value]) => value === exception.merge)?.[0] ?? MERGES[0][0];
  return (
    <div className="flex flex-col gap-1">
      <div className="flex items-center gap-1">
        <span className="w-20 shrink-0 truncate opacity-80" title={name}>
          {name}
        </span>
        <select
          className="select select-xs min-w-0 flex-1"
          aria-label={`Hatch of ${name} here`}
          value={exception.hatch ?? ""}
          onChange={(event) => onChange({ hatch: event.target.value || null })}
        >
          {hatches.map((hatch) => (
            <option key={hatch}>{hatch}</option>
          ))}
        </select>
        <input
          type="color"
          className="h-6 w-6 shrink-0 cursor-pointer"
          aria-label={`Tint of ${name} here`}
          value={exception.tint ?? tint}
          onChange={(event) => onChange({ tint: event.target.value })}
        />
        <Gone name={name} onClick={onRemove} />
      </div>
      <label className="flex items-center gap-1">
        <span className="w-20 shrink-0 pl-2 opacity-80">neighbours</span>
        <select
          className="select select-xs min-w-0 flex-1"
          aria-label={`Neighbours of ${name} here`}
          value={merge}
          onChange={(event) =>
            onChange({ merge: MERGES.find(([words]) => words === event.target.value)?.[1] ?? null })
          }
        >
          {MERGES.map(([words]) => (
            <option key={words}>{words}</option>
          ))}
        </select>
      </label>
    </div>
  );
}
