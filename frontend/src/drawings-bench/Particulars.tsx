import { Download, FlipHorizontal2 } from "lucide-react";
import { useState } from "react";
import type { Cut, Drawing, Project, SectionCut, Settings, Sheet, Style } from "../api/client";
import { LengthField } from "../fields/LengthField";
import { Part } from "../fields/Part";
import { PlacementPart } from "./PlacementPart";
import { OPEN_EXTENTS } from "./plan-geometry";

type Props = {
  project: Project;
  drawing: Drawing;
  cut: Cut;
  style: Style;
  settings: Settings;
  sheets: Sheet[];
  onSave: (change: { cut?: Cut; style?: Style; name?: string }) => void;
  onTurn: () => void;
};

/** The settings of a drawing, in the order in which people set them. */
export function Particulars({ project, drawing, cut, style, settings, sheets, onSave, onTurn }: Props) {
  const section = cut.kind === "section" ? cut : null;
  const plan = cut.kind === "plan" ? cut : null;
  const storey = plan && project.facts.storeys.find((s) => s.guid === plan.storey);
  return (
    <aside aria-label="Particulars" className="flex h-full flex-col bg-base-200">
      <h2 className="flex h-8 shrink-0 items-center border-b border-base-300 px-3 font-semibold">
        Particulars
      </h2>
      <div className="flex-1 overflow-y-auto">
        <NamePart key={`${drawing.id} ${drawing.name}`} drawing={drawing} onSave={onSave} />
        <Part title="Cut">
          {section && (
            <button type="button" className="btn btn-xs justify-start" onClick={onTurn}>
              <FlipHorizontal2 size={13} /> {drawing.title.split(", ")[1] ?? `looking ${section.look}`} · turn
              round
            </button>
          )}
          {plan && (
            <>
              <p>{storey?.name ?? "Lost storey"}, looking down</p>
              <LengthField
                label="Height"
                value={plan.height ?? 1.2}
                onChange={(height) => height !== null && onSave({ cut: { ...plan, height } })}
              />
            </>
          )}
          <DepthFields cut={cut} onSave={onSave} />
          {plan && (
            <LengthField
              label="Overhead"
              value={plan.overhead ?? 0}
              least={0}
              onChange={(overhead) => overhead !== null && onSave({ cut: { ...plan, overhead } })}
            />
          )}
        </Part>
        <ExtentsPart cut={cut} onSave={onSave} />
        <GraphicsPart cut={cut} style={style} settings={settings} onSave={onSave} />
        <ShownPart project={project} cut={cut} onSave={onSave} />
        <PlacementPart project={project.id} drawing={drawing} sheets={sheets} />
        <Part title="Export">
          <div className="flex gap-1">
            {(["svg", "pdf", "json"] as const).map((form) => (
              <a
                key={form}
                className="btn btn-xs"
                href={`/api/drawings/${drawing.id}/export.${form}`}
                download
              >
                <Download size={12} /> {form.toUpperCase()}
              </a>
            ))}
          </div>
        </Part>
      </div>
    </aside>
  );
}

function NamePart({ drawing, onSave }: Pick<Props, "drawing" | "onSave">) {
  const [name, setName] = useState(drawing.name);
  const done = () => name !== drawing.name && onSave({ name });
  return (
    <Part title="Name">
      <input
        aria-label="Name"
        className="input input-xs w-full"
        value={name}
        placeholder={drawing.title}
        onChange={(event) => setName(event.target.value)}
        onBlur={done}
        onKeyDown={(event) => event.key === "Enter" && done()}
      />
    </Part>
  );
}

function DepthFields({ cut, onSave }: Pick<Props, "cut" | "onSave">) {
  const unlimited = cut.depth == null;
  return (
    <>
      <LengthField
        label="Depth"
        value={cut.depth ?? null}
        placeholder="unlimited"
        least={0.01}
        onChange={(depth) => depth !== null && onSave({ cut: { ...cut, depth } })}
      />
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={unlimited}
          onChange={(event) => onSave({ cut: { ...cut, depth: event.target.checked ? null : 5 } })}
        />
        Unlimited depth
      </label>
    </>
  );
}

function ExtentsPart({ cut, onSave }: Pick<Props, "cut" | "onSave">) {
  const extents = { ...OPEN_EXTENTS, ...cut.extents };
  const sides = ["left", "right", "base", "top"] as const;
  const limited = sides.some((side) => extents[side] !== null);
  return (
    <Part title="Extents">
      {sides.map((side) => (
        <LengthField
          key={side}
          label={side[0]?.toUpperCase() + side.slice(1)}
          value={extents[side]}
          placeholder="open"
          mayBeEmpty
          onChange={(value) => onSave({ cut: { ...cut, extents: { ...extents, [side]: value } } })}
        />
      ))}
      {limited && (
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          onClick={() => onSave({ cut: { ...cut, extents: OPEN_EXTENTS } })}
        >
          Open all sides
        </button>
      )}
    </Part>
  );
}

function GraphicsPart({
  cut,
  style,
  settings,
  onSave,
}: Pick<Props, "cut" | "style" | "settings" | "onSave">) {
  const scales = [...new Set([...settings.scales, style.scale])].sort((a, b) => a - b);
  const [typed, setTyped] = useState("");
  const toggles = cut.kind === "section" ? (["levels", "grid"] as const) : (["grid", "rooms"] as const);
  const words = { levels: "Level markers", grid: "Grid", rooms: "Room names" };
  const own = Number(typed);
  const wrong = typed !== "" && !(own > 0 && own <= 100_000);
  return (
    <Part title="Graphics">
      <label className="flex items-center gap-2">
        <span className="w-20 opacity-80">Scale</span>
        <select
          className="select select-xs figures flex-1"
          aria-label="Scale"
          value={style.scale}
          onChange={(event) => onSave({ style: { ...style, scale: Number(event.target.value) } })}
        >
          {scales.map((s) => (
            <option key={s} value={s}>
              1:{s}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-2">
        <span className="w-20 opacity-80">Other, 1:</span>
        <input
          className={`input input-xs figures flex-1 ${wrong ? "input-error" : ""}`}
          value={typed}
          inputMode="numeric"
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter" && typed !== "" && !wrong) {
              onSave({ style: { ...style, scale: own } });
              setTyped("");
            }
          }}
        />
      </label>
      {wrong && (
        <span role="alert" className="text-xs text-error">
          A scale is a number above 0, like 75
        </span>
      )}
      {toggles.map((key) => (
        <label key={key} className="flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={style[key]}
            onChange={(event) => onSave({ style: { ...style, [key]: event.target.checked } })}
          />
          {words[key]}
        </label>
      ))}
    </Part>
  );
}

function ShownPart({ project, cut, onSave }: Pick<Props, "project" | "cut" | "onSave">) {
  const without = new Set(cut.without ?? []);
  const toggle = (kind: string, show: boolean) => {
    const next = new Set(without);
    if (show) next.delete(kind);
    else next.add(kind);
    onSave({ cut: { ...cut, without: [...next].sort() } as SectionCut });
  };
  return (
    <Part title="What shows">
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={cut.hidden === "dashed"}
          onChange={(event) => onSave({ cut: { ...cut, hidden: event.target.checked ? "dashed" : "off" } })}
        />
        Hidden lines, dashed
      </label>
      <div className="grid grid-cols-2 gap-x-2 gap-y-1">
        {Object.entries(project.facts.kinds).map(([kind, count]) => (
          <label key={kind} className="flex items-center gap-1.5" title={`${count} in the model`}>
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={!without.has(kind)}
              onChange={(event) => toggle(kind, event.target.checked)}
            />
            <span className="truncate">{kind}</span>
          </label>
        ))}
      </div>
    </Part>
  );
}
