import { useState } from "react";
import { useNamedFiles } from "../api/parts";
import { disciplineWord } from "./disciplines";

/** Asks whether several files are one building, and which of them leads: what the names say of that is chosen. */
export function SeveralFiles(props: {
  files: File[];
  onTake: (inOrder: File[]) => void;
  onEach: (files: File[]) => void;
  onLeave: () => void;
}) {
  const { files } = props;
  const [chosen, setChosen] = useState<number | null>(null);
  const { data: named = [] } = useNamedFiles(files.map((file) => file.name));
  const of = (wanted: string | null) => named.findIndex((one) => one.discipline === wanted);
  const leads = chosen ?? [of("architecture"), of(null), 0].find((k) => k >= 0) ?? 0;
  const inOrder = [...files.filter((_, k) => k === leads), ...files.filter((_, k) => k !== leads)];
  return (
    <fieldset
      className="flex flex-col items-start gap-1.5 rounded bg-base-200 p-3"
      aria-label="Several files"
    >
      <b>Are these one building?</b>
      <p className="text-left text-xs">
        One of them leads: it gives storeys, grid and north. Each of the others finds its place by the map,
        its coordinates or the grid; where that is not sure, it is shown to you first.
      </p>
      {files.map((file, k) => (
        <label key={file.name} className="flex items-center gap-2">
          <input
            type="radio"
            name="leads"
            className="radio radio-xs"
            checked={k === leads}
            onChange={() => setChosen(k)}
          />
          {file.name}
          {named[k]?.discipline && (
            <span className="text-xs opacity-75">{disciplineWord(named[k].discipline)}, by its name</span>
          )}
          {k === leads && <span className="badge badge-xs">leads</span>}
        </label>
      ))}
      <span className="flex gap-1 pt-1">
        <button type="button" className="btn btn-primary btn-xs" onClick={() => props.onTake(inOrder)}>
          One building
        </button>
        <button type="button" className="btn btn-xs" onClick={() => props.onEach(files)}>
          A project of each
        </button>
        <button type="button" className="btn btn-ghost btn-xs" onClick={props.onLeave}>
          Leave them
        </button>
      </span>
    </fieldset>
  );
}
