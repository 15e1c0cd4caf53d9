import type { EdgeEnds } from "../../api/client";
import { Check, Choice } from "../../fields/Choice";
import { NumberField } from "../../fields/NumberField";

type Props = {
  title: string;
  /** Words for the two sides. */
  sides: readonly [start: string, end: string];
  ends: EdgeEnds;
  /** What has ends: key and name. */
  things: (readonly [key: string, name: string])[];
  onChange: (ends: EdgeEnds) => void;
};

/** At which side the ends of levels or grid lines stand, how far out, and which of them are left out. */
export function EndsFields({ title, sides, ends, things, onChange }: Props) {
  const hidden = new Set(ends.hidden);
  return (
    <details className="text-xs">
      <summary className="cursor-pointer py-0.5">{title}</summary>
      <div className="flex flex-col gap-1 py-1">
        <Choice
          label="Stand"
          value={ends.side}
          options={[
            ["usual", "as usual"],
            ["start", sides[0]],
            ["end", sides[1]],
            ["both", "at both sides"],
          ]}
          onChange={(side) => onChange({ ...ends, side })}
        />
        <NumberField
          label="Further out"
          unit="mm"
          least={-2}
          most={300}
          value={ends.offset}
          onChange={(offset) => onChange({ ...ends, offset })}
        />
        {things.map(([key, name]) => (
          <Check
            key={key}
            label={name}
            checked={!hidden.has(key)}
            onChange={(on) =>
              onChange({ ...ends, hidden: on ? ends.hidden.filter((k) => k !== key) : [...ends.hidden, key] })
            }
          />
        ))}
      </div>
    </details>
  );
}
