import { FileUp } from "lucide-react";
import { useRef, useState } from "react";
import type { GroundShape, GroundText, Project } from "../../api/client";
import { readGroundText } from "../../api/ground";
import { report } from "../../api/queries";
import { Choice } from "../../fields/Choice";
import { FileField } from "../../fields/FileField";

const UNITS = ["m", "mm", "cm", "ft", "in"].map((u) => [u, u] as const) as [GroundText["unit"], string][];
const COORDINATES: [GroundText["coordinates"], string][] = [
  ["model", "of the model"],
  ["file", "of its file"],
];
const TYPED = 500; // points up to which they stand in the field to be changed

type Props = {
  project: Project;
  kind: "points" | "profile";
  shape: GroundShape | undefined;
  onShape: (shape: GroundShape) => void;
};

/** Points typed, pasted, or read from a file of separated values. */
export function PointsText({ project, kind, shape, onShape }: Props) {
  const rows = rowsOf(kind, shape);
  const held = rows.length <= TYPED ? rows.map((row) => row.join("  ")).join("\n") : "";
  const [text, setText] = useState<string | null>(null);
  const [unit, setUnit] = useState<GroundText["unit"]>("m");
  const [coordinates, setCoordinates] = useState<GroundText["coordinates"]>("model");
  const [line, setLine] = useState(lineOf(project, shape).join("  "));
  const [notes, setNotes] = useState<string[]>([]);
  const file = useRef<HTMLInputElement>(null);
  const use = async () => {
    try {
      const asHeld = text === null; // what stands there is of the model, in metres
      const read = await readGroundText(project.id, {
        text: text ?? held,
        what: kind,
        unit: asHeld ? "m" : unit,
        coordinates: asHeld ? "model" : coordinates,
      });
      setNotes(read.notes);
      setText(null);
      if (kind === "points") onShape({ kind, points: read.rows as [number, number, number][] });
      else {
        const [x0, y0, x1, y1] = line
          .trim()
          .split(/[\s;]+/)
          .map((n) => Number(n.replace(",", ".")));
        if (![x0, y0, x1, y1].every((n) => Number.isFinite(n)))
          throw new Error(
            "The line of a profile is given by four numbers: x and y of its start, and of its end.",
          );
        const heights = read.rows as [number, number][];
        onShape({ kind, start: [x0 as number, y0 as number], end: [x1 as number, y1 as number], heights });
      }
    } catch (error) {
      report(error);
    }
  };
  return (
    <>
      {kind === "profile" && (
        <label className="flex flex-col gap-0.5">
          <span className="opacity-80">Along the line from x y to x y, metres</span>
          <input
            aria-label="Line of the profile"
            className="input input-xs figures w-full"
            value={line}
            onChange={(event) => setLine(event.target.value)}
          />
        </label>
      )}
      {rows.length > TYPED && (
        <p className="text-xs">{rows.length} points. Others take their place when they are read in here.</p>
      )}
      <textarea
        aria-label={kind === "points" ? "Points: x, y, height" : "Profile: distance, height"}
        className="textarea textarea-xs figures w-full whitespace-pre"
        rows={6}
        spellCheck={false}
        placeholder={kind === "points" ? "x  y  height\none line for each point" : "distance  height"}
        value={text ?? held}
        onChange={(event) => setText(event.target.value)}
      />
      {text !== null && (
        <>
          <Choice label="Unit" value={unit} options={UNITS} onChange={setUnit} />
          <Choice label="Coordinates" value={coordinates} options={COORDINATES} onChange={setCoordinates} />
        </>
      )}
      <div className="flex gap-1">
        <button type="button" className="btn btn-xs flex-1" disabled={!(text ?? held).trim()} onClick={use}>
          Use {kind === "points" ? "these points" : "this profile"}
        </button>
        <button type="button" className="btn btn-xs" onClick={() => file.current?.click()}>
          <FileUp size={12} /> CSV
        </button>
      </div>
      <FileField
        field={file}
        label="Points as a file"
        accept=".csv,.txt,.xyz,text/plain,text/csv"
        onFile={async (chosen) => setText(await chosen.text())}
      />
      {notes.map((note) => (
        <p key={note} role="status" className="text-xs opacity-85">
          {note}
        </p>
      ))}
    </>
  );
}

function rowsOf(kind: "points" | "profile", shape: GroundShape | undefined): number[][] {
  if (shape?.kind === "points" && kind === "points") return shape.points as number[][];
  if (shape?.kind === "profile" && kind === "profile") return shape.heights as number[][];
  return [];
}

/** The line that a profile lies along: at first that of the building's length. */
function lineOf({ facts: { low, high } }: Project, shape: GroundShape | undefined): number[] {
  if (shape?.kind === "profile") return [...shape.start, ...shape.end] as number[];
  const middle = ((low[1] as number) + (high[1] as number)) / 2;
  return [low[0] as number, middle, high[0] as number, middle].map((n) => Math.round(n * 100) / 100);
}
