import type { Cut, ElementLook, Standard, Style } from "../../api/client";
import { NumberField } from "../../fields/NumberField";
import { Part } from "../../fields/Part";

type ExceptionProps = {
  cut: Cut;
  style: Style;
  standard: Standard | undefined;
  onSave: (change: { cut?: Cut; style?: Style }) => void;
};

/** What this drawing does differently from its standard: hatch and tint by class of material, widths by role. */
export function ExceptionsPart({ cut, style, standard, onSave }: ExceptionProps) {
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
          [key]: {
            hatch: materials[key]?.hatch ?? null,
            tint: null,
            merge: null,
            pattern: null,
            seen_tint: null,
          },
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
      {style.looks.map((look, k) => (
        <LookRow
          key={look.kind || look.elements.join()}
          look={look}
          onRemove={() => save({ looks: style.looks.filter((_, i) => i !== k) })}
        />
      ))}
      <SeeThroughRows cut={cut} onSave={onSave} />
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

/** What elements, or those of a kind, look like here; picked in the drawing, taken back here. */
function LookRow({ look, onRemove }: { look: ElementLook; onRemove: () => void }) {
  const n = look.elements.length;
  const name = look.kind ? `Every ${look.kind}` : `${n} ${n === 1 ? "element" : "elements"}`;
  const words = [
    look.pen !== null && `${look.pen} mm`,
    look.hatch,
    look.ink && "ink",
    look.tint && "tint",
  ].filter(Boolean);
  return (
    <div className="flex items-center gap-1 text-xs">
      <span className="min-w-0 flex-1 truncate">
        {name}: {words.join(", ")}
      </span>
      {[look.ink, look.tint].map(
        (colour, k) =>
          colour && (
            <span
              key={k === 0 ? "ink" : "tint"}
              className="size-3 border border-base-300"
              style={{ background: colour }}
              title={k === 0 ? "Ink" : "Tint"}
            />
          ),
      )}
      <Gone name={name} onClick={onRemove} />
    </div>
  );
}

/** Elements that things show behind, and those that the cut leaves whole. */
function SeeThroughRows({ cut, onSave }: Pick<ExceptionProps, "cut" | "onSave">) {
  const single = cut.see_through ?? [];
  return (
    <>
      {single.length > 0 && (
        <div className="flex items-center gap-1 text-xs">
          <span className="flex-1">{single.length} seen through</span>
          <Gone name="What is seen through" onClick={() => onSave({ cut: { ...cut, see_through: [] } })} />
        </div>
      )}
      {(cut.whole ?? []).length > 0 && (
        <div className="flex items-center gap-1 text-xs">
          <span className="flex-1">{cut.whole?.length} drawn whole</span>
          <Gone name="What is drawn whole" onClick={() => onSave({ cut: { ...cut, whole: [] } })} />
        </div>
      )}
      {(cut.whole_kinds ?? []).map((kind) => (
        <div key={`whole ${kind}`} className="flex items-center gap-1 text-xs">
          <span className="flex-1">Every {kind}: drawn whole</span>
          <Gone
            name={`Every whole ${kind}`}
            onClick={() =>
              onSave({ cut: { ...cut, whole_kinds: cut.whole_kinds?.filter((k) => k !== kind) } })
            }
          />
        </div>
      ))}
      {(cut.see_through_kinds ?? []).map((kind) => (
        <div key={kind} className="flex items-center gap-1 text-xs">
          <span className="flex-1">Every {kind}: seen through</span>
          <Gone
            name={`Every ${kind}`}
            onClick={() =>
              onSave({
                cut: { ...cut, see_through_kinds: cut.see_through_kinds?.filter((k) => k !== kind) },
              })
            }
          />
        </div>
      ))}
    </>
  );
}
