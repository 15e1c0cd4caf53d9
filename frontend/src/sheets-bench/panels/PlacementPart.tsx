import { Link } from "react-router";
import type { Drawing, Placement, Sheet, Trim } from "../../api/client";
import { type PlacementChange, useSheetActs } from "../../api/sheet-acts";
import { useSheetState } from "../../desk/sheet-state";
import { Check, Choice } from "../../fields/Choice";
import { NumberField } from "../../fields/NumberField";
import { Part } from "../../fields/Part";
import { scaleText } from "../../fields/scale";
import { TextField } from "../../fields/TextField";

type Props = { sheet: Sheet; placed: Placement[]; drawings: Drawing[] };
const SIDES: readonly (readonly [keyof Trim, string])[] = [
  ["left", "Left"],
  ["right", "Right"],
  ["base", "Base"],
  ["top", "Top"],
];
const WHOLE: Trim = { left: 0, base: 0, right: 0, top: 0 };

/** What is chosen on the sheet: one placement with all that can be set of it, or several. */
export function PlacementPart({ sheet, placed, drawings }: Props) {
  const { take } = useSheetActs(sheet.project_id);
  const { choose } = useSheetState();
  const one = placed.length === 1 ? placed[0] : undefined;
  return (
    <>
      {one ? (
        <OnePlacement sheet={sheet} placement={one} drawings={drawings} />
      ) : (
        <Part title={`${placed.length} drawings`}>
          <p className="opacity-85">
            Drag one of them to move all; arrow keys move by 1 mm, with Shift by 10.
          </p>
        </Part>
      )}
      <div className="flex flex-wrap gap-1 p-3">
        <button type="button" className="btn btn-xs" onClick={() => choose([])}>
          Back to the sheet
        </button>
        <button
          type="button"
          className="btn btn-xs"
          onClick={() => {
            for (const p of placed) take.mutate(p.id);
            choose([]);
          }}
        >
          Take off
        </button>
      </div>
    </>
  );
}

function OnePlacement({
  sheet,
  placement,
  drawings,
}: {
  sheet: Sheet;
  placement: Placement;
  drawings: Drawing[];
}) {
  const acts = useSheetActs(sheet.project_id);
  const change = (said: PlacementChange) => acts.change.mutate({ placement, change: said });
  const drawing = drawings.find((d) => d.id === placement.drawing_id);
  const { title, trim } = placement;
  const others = drawing
    ? [drawing.placement, ...drawing.also_on].filter((p) => p && p.id !== placement.id)
    : [];
  return (
    <>
      <Part title="Drawing">
        <Link
          className="link link-hover truncate"
          to={`/projects/${sheet.project_id}?drawing=${placement.drawing_id}`}
        >
          {drawing?.title}
        </Link>
        <p className="text-xs opacity-85">
          A double click works on it here; the link opens it on the drawings bench.
        </p>
        <p className="figures text-xs opacity-85">{drawing && scaleText(drawing.style.scale)}</p>
        <select
          className="select select-xs"
          aria-label="Exchange for"
          value=""
          onChange={(event) => change({ drawing_id: Number(event.target.value) })}
        >
          <option value="" disabled>
            Exchange for …
          </option>
          {drawings
            .filter((d) => !sheet.placements.some((p) => p.drawing_id === d.id))
            .map((d) => (
              <option key={d.id} value={d.id}>
                {d.title}
              </option>
            ))}
        </select>
        <TextField label="Number" value={placement.number} figures onEnter={(number) => change({ number })} />
        <NumberField
          label="From left"
          value={round(placement.box[0])}
          unit="mm"
          onChange={(v) => change({ x: v - trim.left })}
        />
        <NumberField
          label="From base"
          value={round(placement.box[1])}
          unit="mm"
          onChange={(v) => change({ y: v - trim.base })}
        />
        {sheet.areas.length > 0 && (
          <Choice
            labelWidth="w-16"
            label="Middle of"
            value=""
            options={[["", "choose an area"], ...sheet.areas.map((a) => [a.name, a.name] as const)]}
            onChange={(area) => area && change({ area })}
          />
        )}
        <div className="flex gap-1">
          <button type="button" className="btn btn-xs" onClick={() => change({ stack: "front" })}>
            To the front
          </button>
          <button type="button" className="btn btn-xs" onClick={() => change({ stack: "back" })}>
            To the back
          </button>
        </div>
      </Part>
      <Part title="Trimmed on the sheet">
        {SIDES.map(([side, label]) => (
          <NumberField
            key={side}
            label={label}
            value={trim[side]}
            unit="mm"
            least={0}
            onChange={(value) => change({ trim: { ...trim, [side]: value } })}
          />
        ))}
        <button type="button" className="btn btn-xs" onClick={() => change({ trim: WHOLE })}>
          Show all of it
        </button>
      </Part>
      <Part title="Title">
        <Check
          label="Shown"
          checked={title.shown}
          onChange={(shown) => change({ title: { ...title, shown } })}
        />
        <NumberField
          label="Length"
          value={title.wide || null}
          placeholder="as its words"
          unit="mm"
          least={0}
          onChange={(wide) => change({ title: { ...title, wide } })}
        />
        <button
          type="button"
          className="btn btn-xs"
          onClick={() => change({ title: { shown: true, dx: 0, dy: 0, wide: 0 } })}
        >
          Back under its drawing
        </button>
      </Part>
      <Part title="Home">
        {placement.home ? (
          <p className="opacity-85">
            Markers show <b className="figures">{`${placement.number}/${sheet.number}`}</b>.
          </p>
        ) : (
          <button type="button" className="btn btn-xs" onClick={() => change({ home: true })}>
            Make this sheet its home
          </button>
        )}
        {others.map(
          (p) =>
            p && (
              <Link
                key={p.id}
                className="link link-hover"
                to={`/projects/${sheet.project_id}/sheets/${p.sheet_id}`}
              >
                Also on {p.sheet_number}
              </Link>
            ),
        )}
      </Part>
    </>
  );
}

const round = (value: number) => Math.round(value * 10) / 10;
