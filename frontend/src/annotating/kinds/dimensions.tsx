import { ArrowDownToLine, CircleDot, MoveDiagonal, Ruler, Slash, TrendingUp, Triangle } from "lucide-react";
import { Choice } from "../../fields/Choice";
import { NumberField } from "../../fields/NumberField";
import { directionOf, spotOf } from "../steps";
import type { Pick, Place } from "../tools";
import type { Doing, Kind, SettingsOf, SettingsProps } from "./kind";
import { OptionChoice } from "./OptionChoice";
import { TextHeight } from "./words";

const SLOPES = ["percent", "ratio", "degrees"] as const;
const spots = ({ reach }: Doing, refs: Pick[]) => refs.map((p) => spotOf(p, reach));

const dimension = (form: "chain" | "running") => (doing: Doing, refs: Pick[], at: Place) =>
  doing.add(spots(doing, refs), {
    kind: "dimension",
    form,
    points: [at],
    direction: directionOf(
      doing.options.way,
      refs.map((p) => p.at),
      at,
    ),
  });

const plain = (kind: "angle" | "radius" | "spot level") => (doing: Doing, refs: Pick[], at: Place) =>
  doing.add(spots(doing, refs), { kind, points: [at] });

const Directions = () => (
  <OptionChoice label="Direction" option="way" values={["by itself", "across", "up", "aligned"]} />
);

export const DIMENSIONS: Kind[] = [
  {
    tool: "dimension",
    group: "Annotate",
    glyph: Ruler,
    name: "Dimension chain",
    keys: "shift+d",
    next: [
      "Click corners, ends, sides, levels or grid lines.",
      "Click more of them, or a free place for the dimension line.",
    ],
    refers: { refs: 2, many: true, finish: dimension("chain") },
    Choices: Directions,
  },
  {
    tool: "running",
    group: "Annotate",
    glyph: MoveDiagonal,
    name: "Running dimensions",
    keys: "shift+r",
    next: [
      "Click where distances are measured from.",
      "Click more references, or a free place for the dimension line.",
    ],
    refers: { refs: 2, many: true, finish: dimension("running") },
    Choices: Directions,
  },
  {
    tool: "crossing",
    group: "Annotate",
    glyph: Slash,
    name: "Dimensions along a line",
    keys: "shift+x",
    next: ["Click where a line begins.", "Click where it ends; everything that it crosses is measured."],
    drawn: {
      points: () => ({ least: 2, exactly: true }),
      finish: (doing, [a, b]) => a && b && doing.cross([a, b]),
    },
  },
  {
    tool: "spot level",
    group: "Annotate",
    glyph: ArrowDownToLine,
    name: "Spot level",
    keys: "shift+v",
    next: ["Click what the level is of.", "Click where it is written."],
    refers: { refs: 1, finish: plain("spot level") },
  },
  {
    tool: "angle",
    group: "Annotate",
    glyph: Triangle,
    name: "Angle",
    keys: "shift+g",
    next: [
      "Click the corner of the angle.",
      "Click a point on one leg.",
      "Click a point on the other leg.",
      "Click where the arc runs.",
    ],
    refers: { refs: 3, finish: plain("angle") },
  },
  {
    tool: "radius",
    group: "Annotate",
    glyph: CircleDot,
    name: "Radius",
    keys: "shift+u",
    next: [
      "Click three points of the curve.",
      "Click the second point.",
      "Click the third point.",
      "Click where the radius is written.",
    ],
    refers: { refs: 3, finish: plain("radius") },
  },
  {
    tool: "slope",
    group: "Annotate",
    glyph: TrendingUp,
    name: "Slope",
    keys: "shift+s",
    next: ["Click one end of the slope.", "Click its other end.", "Click where it is written."],
    refers: {
      refs: 2,
      finish: (doing, refs, at) =>
        doing.add(spots(doing, refs), { kind: "slope", points: [at], as: doing.options.slope }),
    },
    Choices: () => <OptionChoice label="Written as" option="slope" values={SLOPES} />,
  },
];

function SlopeSettings({ one: { document: d }, save }: SettingsProps) {
  if (d.kind !== "slope") return null;
  return (
    <Choice
      label="Written as"
      value={d.as}
      options={SLOPES.map((as) => [as, as] as const)}
      onChange={(as) => save({ as })}
    />
  );
}

/** A dimension's form and direction, its typed values, and its witness lines one by one. */
function DimensionSettings({ one, save }: SettingsProps) {
  const d = one.document;
  if (d.kind !== "dimension") return null;
  const values = one.texts.filter((t) => t.role === "dimension text");
  const setWitness = (index: number, part: object) =>
    save({
      witness: [
        ...d.witness.filter((w) => w.index !== index),
        { index, start: 0, length: null, shown: true, ...d.witness.find((w) => w.index === index), ...part },
      ],
    });
  const setSaid = (index: number, typed: string) =>
    save({
      said: [
        ...d.said.filter((s) => s.index !== index),
        { under: "", moved: null, ...d.said.find((s) => s.index === index), index, typed },
      ],
    });
  return (
    <>
      <Choice
        label="Form"
        value={d.form}
        options={[
          ["chain", "chain"],
          ["running", "running"],
        ]}
        onChange={(form) => save({ form })}
      />
      <NumberField
        label="Direction"
        unit="°"
        value={Math.round(d.direction * 100) / 100}
        least={-360}
        most={360}
        onChange={(direction) => save({ direction })}
      />
      <p className="text-xs opacity-85">Values; one that is typed is marked as such</p>
      {values.map((value, k) => {
        const typed = d.said.find((s) => s.index === k)?.typed ?? "";
        return (
          <input
            // biome-ignore lint/suspicious/noArrayIndexKey: stretches are told apart by their place
            key={`${k} ${typed}`}
            aria-label={`Value ${k + 1}`}
            className="input input-xs figures w-full text-right"
            defaultValue={typed}
            placeholder={value.text}
            maxLength={60}
            onBlur={(event) => event.target.value !== typed && setSaid(k, event.target.value)}
            onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
          />
        );
      })}
      <p className="text-xs opacity-85">
        Witness lines: how much further off they start, and their length, mm
      </p>
      {d.anchors.map((anchor, k) => {
        const own = d.witness.find((w) => w.index === k);
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: references are told apart by their place
          <div key={k} className="flex items-center gap-1 [&>label]:min-w-0 [&>label]:flex-1">
            <input
              type="checkbox"
              aria-label={`Witness line ${k + 1}`}
              className="checkbox checkbox-xs"
              checked={own?.shown ?? true}
              onChange={(event) => setWitness(k, { shown: event.target.checked })}
            />
            <span className="w-12 shrink-0 truncate text-xs">{anchor.to}</span>
            <NumberField
              label={`Witness line ${k + 1} starts further off`}
              wide={false}
              value={own?.start ?? 0}
              least={-2000}
              most={2000}
              onChange={(start) => setWitness(k, { start })}
            />
            <NumberField
              label={`Length of witness line ${k + 1}`}
              wide={false}
              placeholder="to it"
              value={own?.length ?? null}
              least={0}
              most={2000}
              onChange={(length) => setWitness(k, { length })}
            />
          </div>
        );
      })}
    </>
  );
}

export const DIMENSION_SETTINGS: SettingsOf = {
  dimension: DimensionSettings,
  slope: SlopeSettings,
  "spot level": TextHeight,
};
