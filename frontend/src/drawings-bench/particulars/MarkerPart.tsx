import type { Cut, Style } from "../../api/client";
import { MARKER_HEADS } from "../../drawing/marker-heads";
import { Check, Choice } from "../../fields/Choice";
import { Part } from "../../fields/Part";

type Kind = Style["shown_markers"][number];
const KINDS: [Kind, string][] = [
  ["section", "Sections"],
  ["elevation", "Elevations"],
  ["interior elevation", "Walls of rooms"],
];

const FORMS = [["", "by the standard"], ...MARKER_HEADS] as const;

type Props = { cut: Cut; style: Style; onSave: (change: { style: Style }) => void };

/** The marker of this drawing on others, and whose markers it shows. */
export function MarkerPart({ cut, style, onSave }: Props) {
  const save = (part: Partial<Style>) => onSave({ style: { ...style, ...part } });
  const shown = new Set(style.shown_markers);
  const kinds = cut.kind === "plan" ? KINDS : KINDS.slice(0, 1);
  if (cut.kind === "plane") return null;
  return (
    <Part title="Markers">
      {cut.kind !== "plan" && cut.kind !== "blank" && (
        <Check
          label="On other drawings (a study has none)"
          checked={style.marker.shown ?? true}
          onChange={(shown) => save({ marker: { ...style.marker, shown } })}
        />
      )}
      {cut.kind !== "plan" && cut.kind !== "blank" && (
        <Choice
          label="Head"
          value={style.marker.head ?? ""}
          options={FORMS}
          onChange={(head) => save({ marker: { ...style.marker, head: head || null } })}
        />
      )}
      {cut.kind === "section" && (
        <>
          <Choice
            label="Heads"
            value={style.marker.heads}
            options={[
              ["both", "at both ends"],
              ["first", "at the first end"],
              ["last", "at the last end"],
            ]}
            onChange={(heads) => save({ marker: { ...style.marker, heads } })}
          />
          {style.marker.shift.some((by) => by !== 0) && (
            <button
              type="button"
              className="btn btn-xs"
              onClick={() => save({ marker: { ...style.marker, shift: [0, 0] } })}
            >
              Heads back to the ends of the line
            </button>
          )}
          <Check
            label="Middle of the line left out"
            checked={style.marker.open_middle}
            onChange={(open_middle) => save({ marker: { ...style.marker, open_middle } })}
          />
        </>
      )}
      <p className="text-xs opacity-85">Shown in this drawing</p>
      <Check label="Callouts" checked={style.callouts ?? true} onChange={(callouts) => save({ callouts })} />
      {kinds.map(([kind, name]) => (
        <Check
          key={kind}
          label={name}
          checked={shown.has(kind)}
          onChange={(on) =>
            save({ shown_markers: KINDS.map(([k]) => k).filter((k) => (k === kind ? on : shown.has(k))) })
          }
        />
      ))}
    </Part>
  );
}
