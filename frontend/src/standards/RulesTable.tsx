import type { StandardDocument } from "../api/client";
import { MARKER_HEADS } from "../drawing/marker-heads";
import { Check, Choice } from "../fields/Choice";
import { NumberField } from "../fields/NumberField";
import { DISCIPLINES } from "../parts/disciplines";
import type { EditProps } from "./HatchEditor";
import { Row } from "./Row";
import { ServicesRules } from "./ServicesRules";

type Conventions = StandardDocument["conventions"];
type Flag = { [K in keyof Conventions]: Conventions[K] extends boolean ? K : never }[keyof Conventions];

const FLAGS: Record<Flag, string> = {
  doors: "Doors open at right angles, with their swing",
  stairs: "Stairs with break, arrow and measures",
  windows: "Plain windows at small scales",
  heads: "Heads of openings above the cut left out",
  shafts: "Lifts and shafts crossed",
  voids: "Voids and rooflights crossed",
  services: "Services of parts as lines with letters",
};
const MARKERS = ["section", "elevation", "interior elevation"] as const;
const TEXTS = { small: "Small", label: "Labels", heading: "Grid, headings", title: "Titles" } as const;

type Titles = StandardDocument["titles"];
type Callouts = StandardDocument["marker"]["callouts"];
const CALLOUTS: [keyof Callouts, string, string | undefined, number, number][] = [
  ["corner", "Corners of the boundary", "mm", 0, 20],
  ["reach", "Shown on drawings so many times smaller", undefined, 1, 1000],
  ["shown_up_to", "and up to 1:", undefined, 1, 1_000_000],
];
const BREAKS: [keyof StandardDocument["breaks"], string, number, number][] = [
  ["gap", "Gap of a break", 0, 50],
  ["height", "Height of a zigzag", 0.2, 20],
  ["width", "Width of a zigzag", 0.2, 20],
  ["spacing", "From one zigzag to the next", 5, 1000],
  ["overhang", "Line beyond the drawing", 0, 50],
];

const LOOKS = [
  ["as drawn", "drawn in full"],
  ["grey", "grey, below the rest"],
  ["outline", "outlines alone"],
] as const;

const TITLES: Record<Titles["form"], string> = {
  bubble: "the number in a bubble",
  box: "the number in a box",
  line: "the number on the line",
};

/** What plans draw by the conventions of the trade, markers and lettering. */
export function RulesTable({ document, readOnly, onChange }: EditProps) {
  const { conventions, marker, text, breaks, titles } = document;
  const rule = (part: Partial<Conventions>) =>
    onChange({ ...document, conventions: { ...conventions, ...part } });
  const mark = (part: Partial<StandardDocument["marker"]>) =>
    onChange({ ...document, marker: { ...marker, ...part } });
  const title = (part: Partial<Titles>) => onChange({ ...document, titles: { ...titles, ...part } });
  const upTo = (kind: (typeof MARKERS)[number], scale: number | null) => {
    const { [kind]: _before, ...others } = marker.shown_up_to ?? {};
    mark({ shown_up_to: scale === null ? others : { ...others, [kind]: scale } });
  };
  return (
    <fieldset
      disabled={readOnly}
      className="flex h-full flex-wrap content-start gap-x-10 gap-y-4 overflow-auto p-3"
    >
      <section className="flex w-80 flex-col gap-1.5">
        <h3 className="font-semibold">Plans</h3>
        {(Object.keys(FLAGS) as Flag[]).map((key) => (
          <Check
            key={key}
            label={FLAGS[key]}
            checked={conventions[key]}
            onChange={(on) => rule({ [key]: on })}
          />
        ))}
        <Row
          label="Doors stand open from 1:"
          value={conventions.doors_open_from}
          onChange={(doors_open_from) => rule({ doors_open_from })}
        />
        <Row
          label="Windows are plain from 1:"
          value={conventions.windows_plain_from}
          onChange={(windows_plain_from) => rule({ windows_plain_from })}
        />
        <Row
          label="New plans look below the floor"
          unit="m"
          value={conventions.below_floor}
          most={10}
          onChange={(below_floor) => rule({ below_floor })}
        />
        <Row
          label="and overhead"
          unit="m"
          value={conventions.overhead}
          most={100}
          onChange={(overhead) => rule({ overhead })}
        />
      </section>
      <ServicesRules {...{ document, readOnly, onChange }} />
      <section className="flex w-72 flex-col gap-1.5">
        <h3 className="font-semibold">Parts of a model</h3>
        {DISCIPLINES.map(([key, words]) => (
          <Choice
            key={key}
            label={words}
            value={document.disciplines?.[key] ?? "as drawn"}
            options={LOOKS}
            onChange={(look) =>
              onChange({ ...document, disciplines: { ...document.disciplines, [key]: look } })
            }
          />
        ))}
      </section>
      <section className="flex w-72 flex-col gap-1.5">
        <h3 className="font-semibold">Markers</h3>
        <Choice
          label="Heads"
          value={marker.head}
          options={MARKER_HEADS}
          onChange={(head) => mark({ head })}
        />
        <Row
          label="Radius of heads"
          unit="mm"
          least={1}
          most={30}
          value={marker.head_radius}
          onChange={(head_radius) => mark({ head_radius })}
        />
        <Row
          label="Line beyond its ends"
          unit="mm"
          most={100}
          value={marker.overhang}
          onChange={(overhang) => mark({ overhang })}
        />
        <Row
          label="Heavy ends"
          unit="mm"
          most={5}
          value={marker.heavy}
          onChange={(heavy) => mark({ heavy })}
        />
        {MARKERS.map((kind) => {
          const most = marker.shown_up_to?.[kind] ?? null;
          return (
            <div key={kind} className="flex items-center gap-2">
              <span className="w-44 shrink-0">
                <Check
                  label={`${kind}s up to 1:`}
                  checked={most !== null}
                  onChange={(on) => upTo(kind, on ? 100 : null)}
                />
              </span>
              {most !== null ? (
                <NumberField
                  wide={false}
                  label={`Largest scale for ${kind} markers`}
                  least={1}
                  most={1_000_000}
                  value={most}
                  onChange={(scale) => upTo(kind, scale)}
                />
              ) : (
                <span className="text-xs opacity-85">at every scale</span>
              )}
            </div>
          );
        })}
      </section>
      <section className="flex w-72 flex-col gap-1.5">
        <h3 className="font-semibold">Callouts and breaks</h3>
        {CALLOUTS.map(([key, label, unit, least, most]) => (
          <Row
            key={key}
            label={label}
            unit={unit}
            least={least}
            most={most}
            value={marker.callouts[key]}
            onChange={(value) => mark({ callouts: { ...marker.callouts, [key]: value } })}
          />
        ))}
        {BREAKS.map(([key, label, least, most]) => (
          <Row
            key={key}
            label={label}
            unit="mm"
            least={least}
            most={most}
            value={breaks[key]}
            onChange={(value) => onChange({ ...document, breaks: { ...breaks, [key]: value } })}
          />
        ))}
      </section>
      <section className="flex w-64 flex-col gap-1.5">
        <h3 className="font-semibold">Lettering</h3>
        {(Object.keys(TEXTS) as (keyof typeof TEXTS)[]).map((key) => (
          <Row
            key={key}
            label={TEXTS[key]}
            unit="mm"
            least={0.5}
            most={50}
            value={text[key]}
            onChange={(height) => onChange({ ...document, text: { ...text, [key]: height } })}
          />
        ))}
        <h3 className="pt-2 font-semibold">Titles on sheets</h3>
        <Choice
          label="Form"
          value={titles.form}
          options={Object.entries(TITLES) as [Titles["form"], string][]}
          onChange={(form) => title({ form })}
        />
        <Row
          label="Half the size of the bubble"
          unit="mm"
          least={3}
          most={15}
          value={titles.size}
          onChange={(size) => title({ size })}
        />
        <Check label="With the scale below" checked={titles.scale} onChange={(scale) => title({ scale })} />
      </section>
    </fieldset>
  );
}
