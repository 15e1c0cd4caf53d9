import { Layers, MessageSquareText, Tag } from "lucide-react";
import type { SpotIn } from "../../api/client";
import { Check, Choice } from "../../fields/Choice";
import { NumberField } from "../../fields/NumberField";
import { LayerWords } from "../LayerWords";
import { spotOf } from "../steps";
import type { Pick } from "../tools";
import type { Kind, SettingsOf, SettingsProps } from "./kind";
import { TextHeight, WordsField } from "./words";

const within = (pick: Pick | undefined, reach: number): SpotIn[] =>
  pick ? [{ ...spotOf(pick, reach), only: ["inside"] }] : [];

export const NOTES: Kind[] = [
  {
    tool: "note",
    group: "Annotate",
    glyph: MessageSquareText,
    name: "Note with a leader",
    keys: "shift+n",
    next: ["Click what the note is about.", "Click where its words stand."],
    refers: { refs: 1, finish: ({ write }, refs, at) => write(at, refs) },
  },
  {
    tool: "layer note",
    group: "Annotate",
    glyph: Layers,
    name: "Layer note",
    keys: "shift+l",
    next: ["Click within a build-up that is cut.", "Click where the layers are named."],
    refers: {
      refs: 1,
      finish: ({ add, reach }, [ref], at) =>
        add(within(ref, reach), {
          kind: "layer note",
          points: [at],
          align: at[0] >= (ref?.at[0] ?? 0) ? "left" : "right",
        }),
    },
  },
  {
    tool: "label",
    group: "Annotate",
    glyph: Tag,
    name: "Label",
    keys: "shift+b",
    next: ["Click a room, or an element that is cut.", "Click where the label stands."],
    refers: {
      refs: 1,
      finish: ({ add, reach }, [ref], at) =>
        add(within(ref, reach), { kind: "label", points: [at], says: ["name"] }),
    },
  },
];

function NoteSettings({ one, save }: SettingsProps) {
  const d = one.document;
  if (d.kind !== "note") return null;
  return (
    <>
      <WordsField key={`${one.id} ${d.text}`} text={d.text} said="" onSave={(text) => save({ text })} />
      <TextHeight one={one} save={save} />
      <NumberField
        label="Width"
        unit="mm"
        value={d.width}
        least={0}
        most={1000}
        onChange={(width) => save({ width })}
      />
      <Choice
        label="End"
        value={d.end}
        options={[
          ["arrow", "arrow"],
          ["dot", "dot"],
          ["none", "none"],
        ]}
        onChange={(end) => save({ end })}
      />
      <Check label="Leader" checked={d.leaders} onChange={(leaders) => save({ leaders })} />
      <Check label="Elbow" checked={d.elbow} onChange={(elbow) => save({ elbow })} />
      <WordsStand align={d.align} save={save} />
    </>
  );
}

function WordsStand({ align, save }: { align: "left" | "right"; save: SettingsProps["save"] }) {
  return (
    <Choice
      label="Words stand"
      value={align}
      options={[
        ["left", "right of the leader"],
        ["right", "left of the leader"],
      ]}
      onChange={(align) => save({ align })}
    />
  );
}

function LayerNoteSettings({ one, save }: SettingsProps) {
  const d = one.document;
  if (d.kind !== "layer note") return null;
  return (
    <>
      <LayerWords one={one} onSave={(wording) => save({ wording })} />
      <TextHeight one={one} save={save} />
      <WordsStand align={d.align} save={save} />
      <Check label="Thicknesses" checked={d.thickness} onChange={(thickness) => save({ thickness })} />
    </>
  );
}

function LabelSettings({ one, save }: SettingsProps) {
  const d = one.document;
  if (d.kind !== "label") return null;
  return (
    <>
      <WordsField
        key={`${one.id} ${d.text}`}
        text={d.text}
        said={one.texts.map((t) => t.text).join("\n")}
        onSave={(text, said) => save({ text, instead_of: text ? said : "" })}
      />
      <TextHeight one={one} save={save} />
      <LabelSays says={d.says} onSave={(says) => save({ says })} />
      <Check label="Framed" checked={d.framed} onChange={(framed) => save({ framed })} />
    </>
  );
}

const PROPERTIES = ["number", "name", "area", "kind", "material", "build-up", "mark", "type", "size"];

function LabelSays({ says, onSave }: { says: readonly string[]; onSave: (says: string[]) => unknown }) {
  return (
    <div className="grid grid-cols-2">
      {PROPERTIES.map((property) => (
        <Check
          key={property}
          label={property}
          checked={says.includes(property)}
          onChange={(on) => {
            const ofFile = says.filter((p) => !PROPERTIES.includes(p));
            const next = [...PROPERTIES.filter((p) => (p === property ? on : says.includes(p))), ...ofFile];
            if (next.length > 0) onSave(next);
          }}
        />
      ))}
    </div>
  );
}

export const NOTE_SETTINGS: SettingsOf = {
  note: NoteSettings,
  "layer note": LayerNoteSettings,
  label: LabelSettings,
};
