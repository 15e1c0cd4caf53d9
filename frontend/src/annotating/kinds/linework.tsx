import { Image as ImageGlyph, Pentagon, Shapes, Spline } from "lucide-react";
import { toast } from "sonner";
import { storePicture } from "../../api/annotations";
import type { Standard } from "../../api/client";
import { report } from "../../api/queries";
import { Check, Choice } from "../../fields/Choice";
import { NumberField } from "../../fields/NumberField";
import { type Options, useAnnotate } from "../state";
import { tieOf } from "../steps";
import type { Place } from "../tools";
import { type Doing, type Kind, type Points, type SettingsOf, type SettingsProps, TIE } from "./kind";
import { OptionChoice } from "./OptionChoice";
import { WordsField } from "./words";

const PICTURE = 60; // mm on paper, width of a new picture
const LINE_POINTS: Record<Options["form"], Points> = {
  polyline: { least: 2 },
  spline: { least: 2 },
  rectangle: { least: 2, exactly: true },
  arc: { least: 3, exactly: true },
  cloud: { least: 2, exactly: true },
};

/** What is drawn freely is tied to a corner nearby. */
const freely = ({ add, scale }: Doing, at: Place, document: Parameters<Doing["add"]>[1]) =>
  add([tieOf(at, TIE * scale)], document);

const areaForm = ({ form }: Options) => (form === "rectangle" || form === "spline" ? form : "polyline");

function drawLine(doing: Doing, points: Place[]) {
  const { form, lineType } = doing.options;
  freely(doing, points[0] as Place, { kind: "line", form, points, line_type: lineType });
}

function drawArea(doing: Doing, points: Place[]) {
  const { hatch, masks } = doing.options;
  const form = areaForm(doing.options);
  freely(doing, points[0] as Place, { kind: "area", form, points, hatch, masks });
}

function setPicture(doing: Doing, _refs: unknown, at: Place) {
  const { picture } = doing.options;
  if (!picture) {
    toast("Choose a picture first.");
    return;
  }
  const wide = PICTURE * doing.scale;
  const corner: Place = [at[0] + wide, at[1] + wide * picture.share];
  freely(doing, at, { kind: "picture", image: picture.name, points: [at, corner] });
}

const rulesOf = (standard: Standard | undefined) => standard?.document.annotations;

export const LINEWORK: Kind[] = [
  {
    tool: "line",
    group: "Annotate",
    glyph: Spline,
    name: "Line",
    keys: "shift+i",
    next: [
      "Click where the line begins.",
      "Click on; Enter or a double-click ends it. A length can be typed.",
    ],
    drawn: { points: ({ form }) => LINE_POINTS[form], finish: drawLine },
    Choices: ({ standard }) => (
      <>
        <OptionChoice label="Form" option="form" values={Object.keys(LINE_POINTS)} />
        <OptionChoice
          label="Line type"
          option="lineType"
          values={Object.keys(rulesOf(standard)?.line_types ?? {})}
        />
      </>
    ),
  },
  {
    tool: "area",
    group: "Annotate",
    glyph: Pentagon,
    name: "Area with a hatch",
    keys: "shift+a",
    next: ["Click a corner of the area.", "Click its corners; Enter or a double-click closes it."],
    drawn: {
      points: ({ form }) => (form === "rectangle" ? { least: 2, exactly: true } : { least: 3 }),
      finish: drawArea,
    },
    Choices: ({ standard }) => (
      <>
        <OptionChoice label="Form" option="form" values={["polyline", "rectangle", "spline"]} />
        <HatchChoice standard={standard} />
      </>
    ),
  },
  {
    tool: "symbol",
    group: "Annotate",
    glyph: Shapes,
    name: "Symbol",
    keys: "shift+y",
    next: ["Click where the symbol stands."],
    refers: {
      refs: 0,
      finish: (doing, _refs, at) =>
        freely(doing, at, { kind: "symbol", symbol: doing.options.symbol, points: [at] }),
    },
    Choices: ({ standard }) => (
      <OptionChoice label="Symbol" option="symbol" values={Object.keys(rulesOf(standard)?.symbols ?? {})} />
    ),
  },
  {
    tool: "picture",
    group: "Annotate",
    glyph: ImageGlyph,
    name: "Picture",
    keys: "shift+p",
    next: ["Choose a picture, then click where its lower left corner stands."],
    refers: { refs: 0, finish: setPicture },
    Choices: PictureChoice,
  },
];

export function HatchChoice({ standard }: { standard: Standard | undefined }) {
  return <OptionChoice label="Hatch" option="hatch" values={Object.keys(standard?.document.hatches ?? {})} />;
}

function PictureChoice({ project }: { project: number }) {
  const { options, setOptions } = useAnnotate();
  return (
    <label className="btn btn-xs shrink-0">
      {options.picture ? "Another picture" : "Choose a PNG"}
      <input
        type="file"
        accept="image/png"
        className="hidden"
        onChange={async (event) => {
          const file = event.target.files?.[0];
          if (!file) return;
          try {
            const kept = await storePicture(project, file);
            setOptions({ picture: { name: kept.name, share: kept.height / kept.width } });
          } catch (error) {
            report(error);
          }
        }}
      />
    </label>
  );
}

const namesIn = (of: object | undefined) => Object.keys(of ?? {}).map((k) => [k, k] as const);

function LineSettings({ one: { document: d }, standard, save }: SettingsProps) {
  if (d.kind !== "line") return null;
  return (
    <>
      <Choice
        label="Line type"
        value={d.line_type}
        options={namesIn(rulesOf(standard)?.line_types)}
        onChange={(line_type) => save({ line_type })}
      />
      <Check label="Closed" checked={d.closed} onChange={(closed) => save({ closed })} />
    </>
  );
}

function AreaSettings({ one: { document: d }, standard, save }: SettingsProps) {
  if (d.kind !== "area") return null;
  return (
    <>
      <Choice
        label="Hatch"
        value={d.hatch}
        options={namesIn(standard?.document.hatches)}
        onChange={(hatch) => save({ hatch })}
      />
      <Check label="Outline" checked={d.outline} onChange={(outline) => save({ outline })} />
      <Check label="Covers what is under it" checked={d.masks} onChange={(masks) => save({ masks })} />
    </>
  );
}

function SymbolSettings({ one, standard, save }: SettingsProps) {
  const d = one.document;
  if (d.kind !== "symbol") return null;
  return (
    <>
      <Choice
        label="Symbol"
        value={d.symbol}
        options={namesIn(rulesOf(standard)?.symbols)}
        onChange={(symbol) => save({ symbol })}
      />
      <NumberField
        label="Angle"
        unit="°"
        value={d.angle}
        least={-360}
        most={360}
        onChange={(angle) => save({ angle })}
      />
      <NumberField
        label="Size"
        unit="×"
        value={d.size}
        least={0.1}
        most={20}
        onChange={(size) => save({ size })}
      />
      <WordsField key={`${one.id} ${d.text}`} text={d.text} said="" onSave={(text) => save({ text })} />
    </>
  );
}

export const LINEWORK_SETTINGS: SettingsOf = {
  line: LineSettings,
  area: AreaSettings,
  symbol: SymbolSettings,
};
