import type { Cut, Element, ElementLook, Standard, Style } from "../../api/client";
import { Check, Choice } from "../../fields/Choice";
import { ColourField } from "../../fields/ColourField";

const WIDTHS = [0, 0.13, 0.18, 0.25, 0.35, 0.5, 0.7, 1] as const;
const PLAIN: ElementLook = {
  elements: [],
  kind: "",
  pen: null,
  ink: null,
  tint: null,
  hatch: null,
  pattern: null,
};

type Props = {
  chosen: Element[];
  cut: Cut;
  style: Style;
  standard: Standard | undefined;
  onSave: (change: { cut?: Cut; style?: Style }) => void;
};

/** How what is picked looks in this drawing: the elements themselves, or all of their kind. */
export function LookFields({ chosen, cut, style, standard, onSave }: Props) {
  const guids = chosen.map((e) => e.guid);
  const kinds = [...new Set(chosen.map((e) => e.kind))];
  const whole = guids.every((g) => cut.whole?.includes(g));
  return (
    <>
      <LookOf
        title={chosen.length === 1 ? "Its look here" : "Their look here"}
        look={style.looks.find((l) => l.elements.length > 0 && guids.every((g) => l.elements.includes(g)))}
        standard={standard}
        clear={guids.every((g) => cut.see_through?.includes(g))}
        onLook={(change) => onSave({ style: { ...style, looks: dressed(style.looks, guids, "", change) } })}
        onClear={(clear) => {
          const others = (cut.see_through ?? []).filter((g) => !guids.includes(g));
          onSave({ cut: { ...cut, see_through: clear ? [...others, ...guids] : others } });
        }}
      />
      <Check
        label={chosen.length === 1 ? "Drawn whole, not cut" : "Drawn whole, none of them cut"}
        checked={whole}
        onChange={(next) => {
          const others = (cut.whole ?? []).filter((g) => !guids.includes(g));
          onSave({ cut: { ...cut, whole: next ? [...others, ...guids] : others } });
        }}
      />
      {kinds.length === 1 && kinds[0] && (
        <Check
          label={`Every ${kinds[0]} drawn whole`}
          checked={cut.whole_kinds?.includes(kinds[0]) ?? false}
          onChange={(next) => {
            const others = (cut.whole_kinds ?? []).filter((k) => k !== kinds[0]);
            onSave({ cut: { ...cut, whole_kinds: next ? [...others, kinds[0] as string] : others } });
          }}
        />
      )}
      {kinds.length === 1 && kinds[0] && (
        <LookOf
          title={`Look of every ${kinds[0]} here`}
          look={style.looks.find((l) => l.kind === kinds[0])}
          standard={standard}
          clear={cut.see_through_kinds?.includes(kinds[0]) ?? false}
          onLook={(change) =>
            onSave({ style: { ...style, looks: dressed(style.looks, [], kinds[0] as string, change) } })
          }
          onClear={(clear) => {
            const others = (cut.see_through_kinds ?? []).filter((k) => k !== kinds[0]);
            onSave({ cut: { ...cut, see_through_kinds: clear ? [...others, kinds[0] as string] : others } });
          }}
        />
      )}
    </>
  );
}

type Change = Partial<Pick<ElementLook, "pen" | "ink" | "tint" | "hatch" | "pattern">>;

/** The looks of a drawing with those of some elements, or of a kind, changed. */
function dressed(looks: ElementLook[], elements: string[], kind: string, change: Change): ElementLook[] {
  const same = (l: ElementLook) =>
    kind ? l.kind === kind : !l.kind && elements.every((g) => l.elements.includes(g));
  const before = looks.find(same) ?? PLAIN;
  const next = { ...before, elements, kind, ...change };
  const others = looks
    .filter((l) => kind === "" || l.kind !== kind)
    .map((l) => (kind ? l : { ...l, elements: l.elements.filter((g) => !elements.includes(g)) }))
    .filter((l) => l.kind || l.elements.length > 0);
  const plain = next.pen === null && !next.ink && !next.tint && !next.hatch && !next.pattern;
  return plain ? others : [...others, next];
}

type LookProps = {
  title: string;
  look: ElementLook | undefined;
  standard: Standard | undefined;
  clear: boolean;
  onLook: (change: Change) => void;
  onClear: (clear: boolean) => void;
};

function LookOf({ title, look, standard, clear, onLook, onClear }: LookProps) {
  const own = look ?? PLAIN;
  const hatches = Object.keys(standard?.document.hatches ?? {});
  const widths = [...new Set([...WIDTHS, ...(own.pen === null ? [] : [own.pen])])].sort((a, b) => a - b);
  return (
    <details className="text-xs">
      <summary className="cursor-pointer py-0.5">{title}</summary>
      <div className="flex flex-col gap-1 py-1">
        <Choice
          label="Pen"
          value={own.pen === null ? "" : String(own.pen)}
          options={[
            ["", "as usual"],
            ...widths.map((w) => [String(w), w === 0 ? "no lines" : `${w} mm`] as const),
          ]}
          onChange={(pen) => onLook({ pen: pen === "" ? null : Number(pen) })}
        />
        <Choice
          label="Hatch"
          value={own.hatch ?? ""}
          options={[["", "as usual"], ...hatches.map((h) => [h, h] as const)]}
          onChange={(hatch) => onLook({ hatch: hatch || null })}
        />
        <Choice
          label="Pattern"
          value={own.pattern ?? ""}
          options={[["", "as usual"], ...hatches.map((h) => [h, h] as const)]}
          onChange={(pattern) => onLook({ pattern: pattern || null })}
        />
        {(["ink", "tint"] as const).map((key) => (
          <Colour
            key={key}
            label={key === "ink" ? "Ink" : "Tint"}
            value={own[key]}
            usual={key === "ink" ? (standard?.document.ink ?? "#000000") : "#ffffff"}
            onChange={(colour) => onLook({ [key]: colour })}
          />
        ))}
        <Check label="Seen through" checked={clear} onChange={onClear} />
      </div>
    </details>
  );
}

type ColourProps = {
  label: string;
  value: string | null;
  usual: string;
  onChange: (colour: string | null) => void;
};

/** A colour, or the usual one. */
function Colour({ label, value, usual, onChange }: ColourProps) {
  return (
    <ColourField label={label} value={value ?? usual} onChange={onChange}>
      {value ? (
        <button type="button" className="btn btn-ghost btn-xs" onClick={() => onChange(null)}>
          as usual
        </button>
      ) : (
        <span className="opacity-80">as usual</span>
      )}
    </ColourField>
  );
}
