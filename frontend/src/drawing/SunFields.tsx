import type { Sun } from "../api/client";
import { Choice } from "../fields/Choice";
import { NumberField } from "../fields/NumberField";

const WAYS = [
  ["view", "by the view, 45°"],
  ["bearing", "at a bearing"],
  ["hour", "at a place and hour"],
] as const;
/** Where an hour begins that nobody chose yet: noon of midsummer, so that the sun is up in most places. */
const MIDSUMMER = "2026-06-21T12:00:00+00:00";

type Props = { sun: Sun; onChange: (sun: Sun) => void };

/** Where the sun stands. */
export function SunFields({ sun, onChange }: Props) {
  const put = (part: Partial<Sun>) => onChange({ ...sun, ...part });
  return (
    <>
      <Choice
        label="Sun"
        value={sun.by}
        options={WAYS}
        onChange={(by) =>
          put(
            by === "hour"
              ? {
                  by,
                  latitude: sun.latitude ?? 50,
                  longitude: sun.longitude ?? 0,
                  when: sun.when ?? MIDSUMMER,
                }
              : { by },
          )
        }
      />
      {sun.by === "bearing" && (
        <>
          <NumberField
            label="Bearing"
            unit="°"
            least={0}
            most={360}
            value={sun.bearing}
            onChange={(bearing) => put({ bearing })}
          />
          <NumberField
            label="Height"
            unit="°"
            least={1}
            most={90}
            value={sun.height}
            onChange={(height) => put({ height })}
          />
        </>
      )}
      {sun.by === "hour" && <HourFields sun={sun} onPut={put} />}
    </>
  );
}

/** Date and time of a place as they are written there, and how many hours it is ahead of UTC. */
function HourFields({ sun, onPut }: { sun: Sun; onPut: (part: Partial<Sun>) => void }) {
  const said = /^(.{16})(?::\d{2}(?:\.\d+)?)?(Z|[+-]\d{2}:\d{2})$/.exec(sun.when ?? MIDSUMMER);
  const local = said?.[1] ?? "2026-06-21T12:00";
  const zone = said?.[2] && said[2] !== "Z" ? said[2] : "+00:00";
  const ahead = (zone[0] === "-" ? -1 : 1) * (Number(zone.slice(1, 3)) + Number(zone.slice(4)) / 60);
  const when = (at: string, hours: number) => {
    const minutes = Math.round(Math.abs(hours) * 60);
    const two = (n: number) => String(n).padStart(2, "0");
    return `${at}:00${hours < 0 ? "-" : "+"}${two(Math.floor(minutes / 60))}:${two(minutes % 60)}`;
  };
  return (
    <>
      <NumberField
        label="Latitude"
        unit="°"
        least={-90}
        most={90}
        value={sun.latitude}
        onChange={(latitude) => onPut({ latitude })}
      />
      <NumberField
        label="Longitude"
        unit="°"
        least={-180}
        most={180}
        value={sun.longitude}
        onChange={(longitude) => onPut({ longitude })}
      />
      <label className="flex items-center gap-2">
        <span className="w-20 shrink-0 opacity-80">When</span>
        <input
          key={local}
          type="datetime-local"
          className="input input-xs min-w-0 flex-1"
          aria-label="When"
          defaultValue={local}
          onBlur={(event) => {
            const next = event.target.value.slice(0, 16);
            if (next.length === 16 && next !== local) onPut({ when: when(next, ahead) });
          }}
        />
      </label>
      <NumberField
        label="Ahead of UTC"
        unit="h"
        least={-12}
        most={14}
        value={ahead}
        onChange={(hours) => onPut({ when: when(local, hours) })}
      />
    </>
  );
}
