import { Trash2 } from "lucide-react";
import type { Drawing, Style } from "../api/client";
import { Choice } from "../fields/Choice";
import { LengthField } from "../fields/LengthField";
import { Part } from "../fields/Part";

type Props = {
  style: Style;
  /** The sections that may be laid in. */
  sections: Drawing[];
  onSave: (change: { style: Style }) => void;
};
type Strip = NonNullable<Style["strip"]>;
const FIRST = { base: 0, top: 1.5, start: null, end: null }; // metres; of a strip that is laid in

/** The strip of a section that is laid into a plan, which is broken open for it. */
export function StripPart({ style, sections, onSave }: Props) {
  const strip = style.strip ?? null;
  const save = (next: Strip | null) => onSave({ style: { ...style, strip: next } });
  const options = sections.map((s) => [String(s.id), s.title] as const);
  if (!strip)
    return (
      <Part title="Inset strip">
        <Choice
          label="Lay in"
          value=""
          options={[["", sections.length > 0 ? "a section …" : "no section yet"], ...options]}
          onChange={(id) => id && save({ ...FIRST, drawing: Number(id) })}
        />
      </Part>
    );
  return (
    <Part title="Inset strip">
      <Choice
        label="Section"
        value={String(strip.drawing)}
        options={
          sections.some((s) => s.id === strip.drawing)
            ? options
            : [[String(strip.drawing), "Lost section"], ...options]
        }
        onChange={(id) => save({ ...strip, drawing: Number(id) })}
      />
      <LengthField
        label="Strip base"
        value={strip.base}
        onChange={(base) => base !== null && save({ ...strip, base })}
      />
      <LengthField
        label="Strip top"
        value={strip.top}
        onChange={(top) => top !== null && save({ ...strip, top })}
      />
      {(["start", "end"] as const).map((end) => (
        <LengthField
          key={end}
          label={end === "start" ? "Strip from" : "Strip to"}
          value={strip[end]}
          placeholder="whole"
          mayBeEmpty
          onChange={(value) => save({ ...strip, [end]: value })}
        />
      ))}
      <button type="button" className="btn btn-xs" onClick={() => save(null)}>
        <Trash2 size={12} /> Take the strip out
      </button>
    </Part>
  );
}
