import type { Appearance } from "../api/client";
import { Check, Choice } from "../fields/Choice";
import { ColourField } from "../fields/ColourField";
import { LengthField } from "../fields/LengthField";
import { NumberField } from "../fields/NumberField";
import { SunFields } from "./SunFields";

const FILLS = [
  ["none", "none"],
  ["material", "by material"],
  ["kind", "by kind of element"],
  ["storey", "by storey"],
  ["distance", "by distance"],
  ["colour", "one colour"],
] as const;
const SHADES = [
  ["none", "none"],
  ["steps", "in three steps"],
  ["smooth", "smooth"],
] as const;
const SHADOWS = [
  ["none", "none"],
  ["tint", "as a tint"],
  ["hatch", "hatched"],
  ["outline", "outlined"],
] as const;

const STARTS = [
  ["zero", "at the model's zero"],
  ["storey", "at each storey's floor"],
  ["corner", "at each face's corner"],
  ["place", "at a place"],
] as const;

type Props = { appearance: Appearance; onChange: (part: Partial<Appearance>) => void };

/** How seen surfaces show: what a standard says, or what one drawing does differently. */
export function AppearanceFields({ appearance, onChange }: Props) {
  const { fill, shadow } = appearance;
  return (
    <>
      <Choice label="Fill" value={fill} options={FILLS} onChange={(next) => onChange({ fill: next })} />
      {(fill === "colour" || fill === "distance") && (
        <ColourField label="Colour" value={appearance.colour} onChange={(colour) => onChange({ colour })} />
      )}
      {fill !== "none" && (
        <>
          <Percent
            label="Strength"
            value={appearance.strength}
            onChange={(strength) => onChange({ strength })}
          />
          <Percent label="Far, paler by" value={appearance.fade} onChange={(fade) => onChange({ fade })} />
          <Percent
            label="Clear glass"
            value={appearance.glass_strength}
            onChange={(glass_strength) => onChange({ glass_strength })}
          />
          <Choice
            label="Shade"
            value={appearance.shade}
            options={SHADES}
            onChange={(shade) => onChange({ shade })}
          />
        </>
      )}
      <Check
        label="Patterns of materials"
        checked={appearance.patterns}
        onChange={(patterns) => onChange({ patterns })}
      />
      {appearance.patterns && (
        <PatternStart
          start={appearance.pattern_start}
          onChange={(pattern_start) => onChange({ pattern_start })}
        />
      )}
      <Choice
        label="Shadows"
        value={shadow}
        options={SHADOWS}
        onChange={(next) => onChange({ shadow: next })}
      />
      {shadow === "tint" && (
        <Percent
          label="How dark"
          value={appearance.shadow_strength}
          onChange={(shadow_strength) => onChange({ shadow_strength })}
        />
      )}
      {shadow !== "none" && (
        <ColourField
          label="Their colour"
          value={appearance.shadow_colour}
          onChange={(shadow_colour) => onChange({ shadow_colour })}
        />
      )}
      {(shadow !== "none" || appearance.shade !== "none") && (
        <SunFields sun={appearance.sun} onChange={(sun) => onChange({ sun })} />
      )}
      <NumberField
        label="Over depth"
        unit="mm"
        least={0}
        most={5}
        value={appearance.outline}
        onChange={(outline) => onChange({ outline })}
      />
      {appearance.outline > 0 && (
        <LengthField
          label="from a gap of"
          value={appearance.outline_gap}
          least={0.05}
          onChange={(gap) => gap !== null && onChange({ outline_gap: gap })}
        />
      )}
      <NumberField
        label="Outline"
        unit="mm"
        least={0}
        most={5}
        value={appearance.profile}
        onChange={(profile) => onChange({ profile })}
      />
    </>
  );
}

type Start = Appearance["pattern_start"];

/** Where courses and boards begin. */
function PatternStart({ start, onChange }: { start: Start; onChange: (start: Start) => void }) {
  const { at, place } = start;
  const put = (k: number, value: number | null) =>
    value !== null &&
    onChange({ at, place: place.map((old, i) => (i === k ? value : old)) as Start["place"] });
  return (
    <>
      <Choice
        label="They begin"
        value={at}
        options={STARTS}
        onChange={(next) => onChange({ at: next, place })}
      />
      {at === "place" &&
        ["x", "y", "height"].map((axis, k) => (
          <LengthField
            key={axis}
            label={`at ${axis}`}
            value={place[k] ?? 0}
            onChange={(value) => put(k, value)}
          />
        ))}
    </>
  );
}

function Percent(props: { label: string; value: number; onChange: (share: number) => void }) {
  return (
    <NumberField
      label={props.label}
      unit="%"
      least={0}
      most={100}
      value={Math.round(props.value * 100)}
      onChange={(percent) => props.onChange(percent / 100)}
    />
  );
}
