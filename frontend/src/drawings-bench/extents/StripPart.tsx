import { Trash2 } from "lucide-react";
import type { Cut, Drawing, InsetStrip, Style } from "../../api/client";
import { client, unwrap } from "../../api/client";
import { report } from "../../api/queries";
import { Check, Choice } from "../../fields/Choice";
import { LengthField } from "../../fields/LengthField";
import { Part } from "../../fields/Part";

type Props = {
  project: number;
  cut: Cut;
  style: Style;
  /** The sections that may be laid in. */
  sections: Drawing[];
  onSave: (change: { style: Style }) => void;
};
// metres; of a strip that is laid in
const FIRST = {
  base: 0,
  top: 1.5,
  start: null,
  end: null,
  replaces: false,
  levels: false,
  layer_notes: false,
};
/** How long a strip is that is placed by itself, metres. */
const LONG = 2;
const WAYS = [
  ["opens", "opens the plan"],
  ["replaces", "covers a band"],
] as const;

/** The strips of sections that are laid into a plan. */
export function StripPart({ project, cut, style, sections, onSave }: Props) {
  const save = (strips: InsetStrip[]) => onSave({ style: { ...style, strips } });
  const place = async (number: number, change: Partial<InsetStrip>) => {
    const strips = style.strips.map((s, i) => (i === number ? { ...s, ...change } : s));
    const strip = strips[number];
    const whole = strip === undefined || strip.start === null || strip.end === null;
    const long = whole ? LONG : Math.round(((strip.end ?? 0) - (strip.start ?? 0)) * 1000) / 1000;
    const body = { cut, style: { ...style, strips }, number, long };
    try {
      const found = await unwrap<Pick<InsetStrip, "start" | "end">>(
        client.POST("/api/projects/{id}/strip-place", { params: { path: { id: project } }, body }),
      );
      save(strips.map((s, i) => (i === number ? { ...s, ...found } : s)));
    } catch (error) {
      report(error);
      if (Object.keys(change).length > 0) save(strips);
    }
  };
  const options = sections.map((s) => [String(s.id), s.title] as const);
  return (
    <Part title="Inset strips">
      {style.strips.map((strip, k) => (
        <OneStrip
          // biome-ignore lint/suspicious/noArrayIndexKey: strips are told apart by their place in the list
          key={k}
          number={k + 1}
          strip={strip}
          options={options}
          onChange={(change) => save(style.strips.map((s, i) => (i === k ? { ...s, ...change } : s)))}
          onPlace={(change) => place(k, change)}
          onTakeOut={() => save(style.strips.filter((_, i) => i !== k))}
        />
      ))}
      <Choice
        label="Lay in"
        value=""
        options={[["", sections.length > 0 ? "a section …" : "no section yet"], ...options]}
        onChange={(id) => id && save([...style.strips, { ...FIRST, drawing: Number(id) }])}
      />
    </Part>
  );
}

type StripProps = {
  number: number;
  strip: InsetStrip;
  options: (readonly [id: string, title: string])[];
  onChange: (change: Partial<InsetStrip>) => void;
  /** Changed, and placed where it covers least. */
  onPlace: (change: Partial<InsetStrip>) => void;
  onTakeOut: () => void;
};

function OneStrip({ number, strip, options, onChange, onPlace, onTakeOut }: StripProps) {
  const drawing = String(strip.drawing);
  return (
    <fieldset className="flex min-w-0 flex-col gap-1 border-l-2 border-base-300 pl-2">
      <legend className="float-left flex w-full items-center justify-between text-xs opacity-85">
        Strip {number}
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label={`Take strip ${number} out`}
          title="Take this strip out"
          onClick={onTakeOut}
        >
          <Trash2 size={12} />
        </button>
      </legend>
      <Choice
        label="Section"
        value={drawing}
        options={options.some(([id]) => id === drawing) ? options : [[drawing, "Lost section"], ...options]}
        onChange={(id) => onChange({ drawing: Number(id) })}
      />
      <Choice
        label="Way"
        value={strip.replaces ? "replaces" : "opens"}
        options={WAYS}
        onChange={(way) =>
          way === "replaces" && strip.start === null && strip.end === null
            ? onPlace({ replaces: true })
            : onChange({ replaces: way === "replaces" })
        }
      />
      {(["base", "top"] as const).map((edge) => (
        <LengthField
          key={edge}
          label={`Strip ${number} ${edge}`}
          value={strip[edge]}
          onChange={(value) => value !== null && onChange({ [edge]: value })}
        />
      ))}
      {(["start", "end"] as const).map((end) => (
        <LengthField
          key={end}
          label={`Strip ${number} ${end === "start" ? "from" : "to"}`}
          value={strip[end]}
          placeholder="whole"
          mayBeEmpty
          onChange={(value) => onChange({ [end]: value })}
        />
      ))}
      {strip.replaces && (
        <button
          type="button"
          className="btn btn-xs"
          title="Move the strip along its section to where it covers least of the plan, as long as it is"
          onClick={() => onPlace({})}
        >
          To where it covers least
        </button>
      )}
      <div className="flex gap-3">
        <Check label="levels" checked={strip.levels} onChange={(levels) => onChange({ levels })} />
        <Check
          label="notes of layers"
          checked={strip.layer_notes}
          onChange={(layer_notes) => onChange({ layer_notes })}
        />
      </div>
    </fieldset>
  );
}
