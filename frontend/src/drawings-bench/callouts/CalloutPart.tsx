import type { Callout, CalloutForm, Cut, Drawing, Style } from "../../api/client";
import { Check, Choice } from "../../fields/Choice";
import { LengthField } from "../../fields/LengthField";
import { NumberField } from "../../fields/NumberField";
import { Part } from "../../fields/Part";

const FORMS: [CalloutForm, string][] = [
  ["detail", "detail"],
  ["wall", "wall section"],
  ["plan", "enlarged plan"],
];

type Props = {
  drawing: Drawing;
  callout: Callout;
  cut: Cut;
  style: Style;
  parent: Drawing | undefined;
  onSave: (change: { cut?: Cut; callout?: Callout; style?: Style }) => void;
  onChoose: (drawing: number) => void;
};

/** What is a callout's own: its form, its depth, and how its marker stands on the drawing that it was called out from. */
export function CalloutPart({ callout, cut, style, parent, onSave, onChoose }: Props) {
  const marker = style.callout ?? { bubble: null, elbow: false, shown_up_to: null };
  const mark = (part: Partial<typeof marker>) =>
    onSave({ style: { ...style, callout: { ...marker, ...part } } });
  return (
    <Part title="Callout">
      {parent && (
        <p className="text-xs">
          of{" "}
          <button type="button" className="link" onClick={() => onChoose(parent.id)}>
            {parent.title}
          </button>
          , which it follows
        </p>
      )}
      <Choice
        label="Form"
        value={callout.form}
        options={FORMS}
        onChange={(form) => onSave({ callout: { ...callout, form } })}
      />
      <Check
        label="A depth of its own"
        checked={callout.own_depth}
        onChange={(own_depth) => onSave({ callout: { ...callout, own_depth } })}
      />
      {callout.own_depth && (
        <LengthField
          label="Depth"
          value={cut.depth ?? null}
          placeholder="unlimited"
          least={0.01}
          mayBeEmpty
          onChange={(depth) => onSave({ cut: { ...cut, depth } })}
        />
      )}
      {marker.bubble && (
        <button type="button" className="btn btn-xs" onClick={() => mark({ bubble: null })}>
          Place the bubble by itself again
        </button>
      )}
      <Check
        label="Leader with an elbow"
        checked={marker.elbow ?? false}
        onChange={(elbow) => mark({ elbow })}
      />
      <Check
        label="Hidden at small scales"
        checked={marker.shown_up_to != null}
        onChange={(on) => mark({ shown_up_to: on ? 50 : null })}
      />
      {marker.shown_up_to != null && (
        <NumberField
          label="Shown up to 1:"
          value={marker.shown_up_to}
          least={1}
          most={1000}
          onChange={(shown_up_to) => mark({ shown_up_to })}
        />
      )}
    </Part>
  );
}
