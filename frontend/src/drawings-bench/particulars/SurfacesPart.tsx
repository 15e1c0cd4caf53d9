import type { Appearance, Drawing, Standard, Style, SurfaceStyle } from "../../api/client";
import { AppearanceFields } from "../../drawing/AppearanceFields";
import { Part } from "../../fields/Part";
import { SunStudy } from "./SunStudy";

const WORDS: Record<keyof SurfaceStyle, string> = {
  fill: "fill",
  colour: "colour",
  strength: "strength",
  fade: "distance",
  patterns: "patterns",
  pattern_start: "where they begin",
  shade: "shade",
  shadow: "shadows",
  shadow_strength: "how dark they are",
  shadow_colour: "their colour",
  sun: "sun",
  glass_strength: "clear glass",
  profile: "outline",
  outline: "lines over depth",
  outline_gap: "how much depth",
};

type Props = {
  drawing: Drawing;
  style: Style;
  standard: Standard | undefined;
  onSave: (change: { style: Style }) => void;
};

/** How seen surfaces show: an appearance of the standard, and what this drawing does differently. */
export function SurfacesPart({ drawing, style, standard, onSave }: Props) {
  const appearances = standard?.document.appearances ?? {};
  const chosen = appearances[style.appearance];
  const own = style.surfaces;
  const departs = (Object.keys(WORDS) as (keyof SurfaceStyle)[]).filter((key) => own[key] !== null);
  const names = [...new Set([...Object.keys(appearances), style.appearance])];
  const put = (surfaces: SurfaceStyle) => onSave({ style: { ...style, surfaces } });
  return (
    <Part title="Seen surfaces">
      <fieldset className="join w-full" aria-label="Appearance">
        {names.map((name) => (
          <button
            key={name}
            type="button"
            aria-pressed={name === style.appearance}
            className={`btn btn-xs join-item min-w-0 flex-1 ${name === style.appearance ? "btn-neutral" : ""}`}
            onClick={() => onSave({ style: { ...style, appearance: name } })}
          >
            {name}
          </button>
        ))}
      </fieldset>
      {departs.length > 0 && (
        <p className="text-xs">
          Here otherwise: {departs.map((key) => WORDS[key]).join(", ")}.{" "}
          <button type="button" className="link" onClick={() => put(without(own, departs))}>
            As the standard has it
          </button>
        </p>
      )}
      {chosen && (
        <details className="text-xs">
          <summary className="cursor-pointer py-0.5">In this drawing</summary>
          <div className="flex flex-col gap-1 py-1">
            <AppearanceFields
              appearance={shownAs(chosen, own)}
              onChange={(part) => put({ ...own, ...departing(chosen, part) })}
            />
            {shownAs(chosen, own).sun.by === "hour" && !drawing.callout && (
              <SunStudy drawing={drawing} sun={shownAs(chosen, own).sun} />
            )}
          </div>
        </details>
      )}
    </Part>
  );
}

/** An appearance with what one drawing does differently. */
function shownAs(appearance: Appearance, own: SurfaceStyle): Appearance {
  const said = Object.fromEntries(Object.entries(own).filter(([, value]) => value !== null));
  return { ...appearance, ...said };
}

/** A change as a departure: what is again as the appearance has it is none. */
function departing(appearance: Appearance, part: Partial<Appearance>): Partial<SurfaceStyle> {
  const same = (key: string, value: unknown) =>
    JSON.stringify(value) === JSON.stringify(appearance[key as keyof Appearance]);
  return Object.fromEntries(
    Object.entries(part).map(([key, value]) => [key, same(key, value) ? null : value]),
  );
}

function without(own: SurfaceStyle, keys: (keyof SurfaceStyle)[]): SurfaceStyle {
  return { ...own, ...Object.fromEntries(keys.map((key) => [key, null])) };
}
