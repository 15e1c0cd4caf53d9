import { Crosshair } from "lucide-react";
import { useState } from "react";
import type { Drawing, Miss, Passage, SectionCut, Style } from "../../api/client";
import { lineThrough, useCutReport } from "../../api/cut-help";
import { report } from "../../api/queries";
import { type Pointed, useBench } from "../../desk/drawings-state";
import type { Place } from "../../desk/mode";
import { useLengths } from "../../fields/lengths";
import { Part } from "../../fields/Part";
import { directions, rounded, shifted } from "../cutting/plan-geometry";

/** A thing by its name, with its kind before it where the name doesn't begin with that. */
const withKind = ({ kind, name }: Passage) =>
  name.toLowerCase().startsWith(kind.toLowerCase()) ? name : `${kind} ${name}`;

const EXPLAINED = new Set(["room", "stair", "door", "window", "column"]);

type Props = {
  project: number;
  drawing: Drawing;
  cut: SectionCut;
  style: Style;
  onSave: (change: { cut: SectionCut }) => void;
};

/** What the line passes through, in order, and what it just misses; rows light up in both panes, and the line can be
 * laid through what is chosen. */
export function CutReportPart({ project, drawing, cut, style, onSave }: Props) {
  const [all, setAll] = useState(false);
  const [chosen, setChosen] = useState<string[]>([]);
  const { live, setLive } = useBench();
  const { say } = useLengths();
  const proposed = live?.id === drawing.id && live.proposed ? (live.cut as SectionCut) : undefined;
  const { data, error } = useCutReport(project, drawing, proposed ?? drawing.cut, style);
  const aside = (by: number) => {
    const { look } = directions(cut.line, cut.look);
    const of = proposed ?? cut;
    const next = { ...of, line: (of.line as Place[]).map((p) => rounded(shifted(p, look, by))) };
    if (proposed) setLive({ id: drawing.id, cut: next, style, proposed: true });
    else onSave({ cut: next });
  };

  const lay = async (things: string[], keep: boolean) => {
    try {
      const next = await lineThrough(project, cut, things);
      if (keep) onSave({ cut: next });
      else setLive({ id: drawing.id, cut: next, style, proposed: true });
    } catch (problem) {
      report(problem);
    }
  };
  const toggle = (guid: string) =>
    setChosen((old) => (old.includes(guid) ? old.filter((g) => g !== guid) : [...old, guid]));
  const passages = data?.passages ?? [];
  const shown = all ? passages : passages.filter((p) => EXPLAINED.has(p.kind));
  const rest = passages.length - passages.filter((p) => EXPLAINED.has(p.kind)).length;
  const row = (thing: Passage | Miss, words: string, pointed: Pointed, key: string) => (
    <Row
      key={key}
      thing={thing}
      words={words}
      pointed={pointed}
      chosen={chosen.includes(thing.guid)}
      onToggle={EXPLAINED.has(thing.kind) ? () => toggle(thing.guid) : undefined}
      onCentre={EXPLAINED.has(thing.kind) ? () => lay([thing.guid], true) : undefined}
    />
  );
  return (
    <Part title="Cut report">
      {error && (
        <p role="alert" className="text-xs text-error">
          {error.message}
        </p>
      )}
      {data && data.along.length > 0 && (
        <div role="status" className="flex flex-col gap-1 text-xs text-warning">
          {data.along.map((p) => (
            <p key={`${p.guid} ${p.start}`}>
              Runs along inside {withKind(p)} for {say(p.end - p.start)}.
            </p>
          ))}
          {data.clear === null ? (
            <p>No place within 3 m crosses everything; turn the line, or step it.</p>
          ) : (
            <button type="button" className="btn btn-xs" onClick={() => aside(data.clear as number)}>
              Move it {say(Math.abs(data.clear))} {data.clear > 0 ? "on" : "back"}, where it cuts across
            </button>
          )}
        </div>
      )}
      <ul aria-label="Passes through" className="flex flex-col">
        {shown.map((p) => row(p, say(p.end - p.start), p, `${p.guid} ${p.start}`))}
      </ul>
      {data && shown.length === 0 && (
        <p className="text-xs opacity-85">The line meets no room, stair, opening or column.</p>
      )}
      {rest > 0 && (
        <button type="button" className="link self-start text-xs" onClick={() => setAll(!all)}>
          {all ? "Only what it explains" : `And ${rest} walls, floors and other parts`}
        </button>
      )}
      {data && data.misses.length > 0 && (
        <>
          <p className="mt-1 text-xs opacity-85">Misses by less than a metre</p>
          <ul aria-label="Just misses" className="flex flex-col">
            {data.misses.map((m) =>
              row(
                m,
                `${say(m.distance)} ${m.side}`,
                { start: m.along, end: m.along, off: m.side === "behind" ? m.distance : -m.distance },
                m.guid,
              ),
            )}
          </ul>
        </>
      )}
      {proposed ? (
        <div className="flex flex-col gap-1" role="status">
          <p className="text-xs">Proposed: {stepsOf(proposed)}.</p>
          <div className="flex gap-1">
            <button
              type="button"
              className="btn btn-primary btn-xs flex-1"
              onClick={() => {
                setChosen([]);
                onSave({ cut: proposed });
              }}
            >
              Take this line
            </button>
            <button type="button" className="btn btn-xs flex-1" onClick={() => setLive(null)}>
              Leave it
            </button>
          </div>
        </div>
      ) : (
        chosen.length > 0 && (
          <button type="button" className="btn btn-xs" onClick={() => lay(chosen, false)}>
            Lay the line through {chosen.length === 1 ? "this" : `these ${chosen.length}`}
          </button>
        )
      )}
    </Part>
  );
}

const stepsOf = (cut: SectionCut) => {
  const steps = (cut.line.length - 2) / 2;
  return steps === 0 ? "a straight line" : `a line with ${steps} ${steps === 1 ? "step" : "steps"}`;
};

type RowProps = {
  thing: Passage | Miss;
  words: string;
  pointed: Pointed;
  chosen: boolean;
  onToggle?: () => void;
  onCentre?: () => void;
};

function Row({ thing, words, pointed, chosen, onToggle, onCentre }: RowProps) {
  const point = useBench((s) => s.point);
  const name = thing.name || thing.kind;
  return (
    <li
      className="group flex items-center gap-1.5 py-0.5 text-xs hover:bg-base-300"
      onPointerEnter={() => point(pointed)}
      onPointerLeave={() => point(null)}
      onFocus={() => point(pointed)}
      onBlur={() => point(null)}
    >
      {onToggle ? (
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          aria-label={`Choose ${name}`}
          checked={chosen}
          onChange={onToggle}
        />
      ) : (
        <span className="w-4" />
      )}
      <span
        className="min-w-0 flex-1 truncate"
        title={`${thing.kind}: ${name}${thing.part ? `, ${thing.part}` : ""}`}
      >
        {name}
      </span>
      <span className="figures shrink-0 text-[11px] opacity-85">{words}</span>
      {onCentre && (
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square size-4 min-h-0 opacity-60 group-hover:opacity-100"
          aria-label={`Move the line through the middle of ${name}`}
          title="Move the line through its middle"
          onClick={onCentre}
        >
          <Crosshair size={12} />
        </button>
      )}
    </li>
  );
}
