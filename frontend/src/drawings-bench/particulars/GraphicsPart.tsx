import { useState } from "react";
import { Link } from "react-router";
import type { Cut, Project, Settings, Standard, Style } from "../../api/client";
import { usePlaces } from "../../api/cut-help";
import { Check, Choice } from "../../fields/Choice";
import { useLengths } from "../../fields/lengths";
import { Part } from "../../fields/Part";
import { scaleText } from "../../fields/scale";
import { EndsFields } from "./EndsFields";

type Props = {
  project: Project;
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
      <Link className="link text-xs" to={`/projects/${project.id}/standards/${style.standard}`}>
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
      <EdgeFields project={project} cut={cut} style={style} onSave={onSave} />
      <Check label="Border of the extents" checked={style.frame} onChange={(frame) => save({ frame })} />
      {cut.kind === "plan" && cut.look === "down" && <ConventionFields style={style} onSave={onSave} />}
    </Part>
  );
}

/** Where levels and grid lines end in this drawing. */
function EdgeFields({ project, cut, style, onSave }: Pick<Props, "project" | "cut" | "style" | "onSave">) {
  const { data: places } = usePlaces(project.id);
  const grid = [...new Set(places?.grid.map((g) => g.name))].map((name) => [name, name] as const);
  const upright = cut.kind !== "plan";
  return (
    <>
      {upright && style.levels && (
        <EndsFields
          title="Ends of the levels"
          sides={["at the left", "at the right"]}
          ends={style.level_ends}
          things={project.facts.storeys.map((s) => [s.guid, s.name] as const)}
          onChange={(level_ends) => onSave({ style: { ...style, level_ends } })}
        />
      )}
      {style.grid && grid.length > 0 && (
        <EndsFields
          title="Ends of the grid lines"
          sides={upright ? ["below", "above"] : ["at the left or below", "at the right or above"]}
          ends={style.grid_ends}
          things={grid}
          onChange={(grid_ends) => onSave({ style: { ...style, grid_ends } })}
        />
      )}
    </>
  );
}

const CONVENTIONS = {
  doors: "Doors open, with their swing",
  stairs: "Stairs with break, arrow and measures",
  windows: "Plain windows at small scales",
  heads: "Heads of openings left out",
  shafts: "Lifts and shafts crossed",
  voids: "Voids and rooflights crossed",
  services: "Services as lines with letters",
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
