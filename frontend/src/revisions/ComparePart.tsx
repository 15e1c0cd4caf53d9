import { Download } from "lucide-react";
import { toast } from "sonner";
import { addAnnotation } from "../api/annotations";
import type { Drawing, Project } from "../api/client";
import { useOutputs } from "../api/queries";
import { useComparison, useRevisions } from "../api/revisions";
import { useLook } from "../drawing/look";
import type { Frame } from "../drawing/screen-form";
import { Check } from "../fields/Choice";
import { Part } from "../fields/Part";
import { IN_THE_FILE, useCompare } from "./compare-state";

type Props = { project: Project; drawing: Drawing; scale: number };

/** A drawing over an earlier revision of the model, or over what its file has where that is corrected: where it changed,
 * with a way to each place. */
export function ComparePart({ project, drawing, scale }: Props) {
  const { data: revisions = [] } = useRevisions(project.id, project.revision > 1);
  const { earlier, setEarlier, alone, setAlone } = useCompare();
  const { data: view, isFetching, error } = useComparison(drawing, earlier ?? undefined);
  const outputs = useOutputs("sheets");
  const look = useLook((s) => s.lookAt);
  const older = revisions.slice(1);
  const corrected = project.corrections.length > 0;
  if (older.length === 0 && !corrected) return null;
  const mark = async () => {
    for (const [left, base, right, top] of view?.regions ?? [])
      await addAnnotation(
        project.id,
        drawing.id,
        [
          {
            at: [left * scale, base * scale],
            reach: 30 * scale,
            only: ["corner", "vertex"],
            level: "",
            grid: "",
            room: "",
          },
        ],
        {
          kind: "line",
          form: "cloud",
          points: [
            [left * scale, base * scale],
            [right * scale, top * scale],
          ],
        },
      );
    toast(`${view?.regions.length ?? 0} marks placed; move or delete them like any line.`);
  };
  return (
    <Part title="Compare">
      <select
        aria-label="Compare with"
        className="select select-xs w-full"
        value={earlier ?? ""}
        onChange={(event) => setEarlier(event.target.value ? Number(event.target.value) : null)}
      >
        <option value="">with nothing</option>
        {corrected && <option value={IN_THE_FILE}>with its file: corrections marked</option>}
        {older.map((r) => (
          <option key={r.number} value={r.number}>
            with revision {r.number}, {r.file_name}
          </option>
        ))}
      </select>
      {earlier !== null && (
        <>
          {error && (
            <p role="alert" className="text-xs text-error">
              {error.message}
            </p>
          )}
          {isFetching && <p className="text-xs opacity-85">Comparing …</p>}
          <Check
            label={earlier === IN_THE_FILE ? "The file's alone" : "The earlier one alone"}
            checked={alone}
            onChange={setAlone}
          />
          <Legend />
          {view && view.places.length === 0 && <p className="text-xs opacity-85">Nothing changed here.</p>}
          {view && view.places.length > 0 && (
            <ul aria-label="Changed places" className="max-h-48 overflow-y-auto text-xs">
              {view.places.map((place) => (
                <li key={place.guid}>
                  <button
                    type="button"
                    className="w-full truncate rounded px-1 text-left hover:bg-base-300"
                    title={`${place.name}: ${place.what}`}
                    onClick={() => look(`drawing ${drawing.id}`, grown(place.box))}
                  >
                    <b>{place.what}</b> {place.name || place.kind}
                  </button>
                </li>
              ))}
            </ul>
          )}
          <div className="flex flex-wrap gap-1">
            {outputs.map(({ form, name }) => (
              <a
                key={form}
                className="btn btn-xs"
                href={`/api/drawings/${drawing.id}/export.${form}?revision=${earlier}`}
                download
              >
                <Download size={12} /> {name}
              </a>
            ))}
            {view && view.regions.length > 0 && (
              <button type="button" className="btn btn-xs" onClick={mark}>
                Place revision marks ({view.regions.length})
              </button>
            )}
          </div>
        </>
      )}
    </Part>
  );
}

const AROUND = 20; // mm on paper shown about a place

const grown = ([left, base, right, top]: Frame): Frame => [
  left - AROUND,
  base - AROUND,
  right + AROUND,
  top + AROUND,
];

/** What the lines mean; by dash and weight too. */
function Legend() {
  return (
    <div className="flex flex-wrap gap-x-3 text-xs" aria-hidden="true">
      <Key words="removed" colour="#a8442a" width={1.5} dash="5 3" />
      <Key words="added" colour="#1f6b4f" width={2.6} />
      <Key words="moved" colour="#7a5b16" width={1.5} arrow />
    </div>
  );
}

type KeyProps = { words: string; colour: string; width: number; dash?: string; arrow?: boolean };

function Key({ words, colour, width, dash, arrow }: KeyProps) {
  return (
    <span className="flex items-center gap-1">
      <svg width="22" height="8" viewBox="0 0 22 8">
        <title>{words}</title>
        <path d="M1 4H21" stroke={colour} strokeWidth={width} strokeDasharray={dash} />
        {arrow && <path d="M21 4l-6-3v6z" fill={colour} />}
      </svg>
      {words}
    </span>
  );
}
