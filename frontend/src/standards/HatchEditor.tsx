import { Copy, Plus, Trash2 } from "lucide-react";
import { useRef, useState } from "react";
import { toast } from "sonner";
import type { Hatch, StandardDocument } from "../api/client";
import { DrawingCanvas } from "../drawing/canvas/DrawingCanvas";
import { Choice } from "../fields/Choice";
import { FamilyRows, FigureFields, ScatterRows, TileRows } from "./HatchParts";
import { usePicture } from "./use-picture";

export type EditProps = {
  document: StandardDocument;
  readOnly: boolean;
  onChange: (document: StandardDocument) => void;
};
const SCALES = [
  ["5", "1:5"],
  ["20", "1:20"],
  ["100", "1:100"],
] as const;
const SEEN_SCALES = [
  ["10", "1:10"],
  ["20", "1:20"],
  ["50", "1:50"],
  ["100", "1:100"],
] as const;
const SIDES = [
  ["cut", "as cut"],
  ["seen", "as seen"],
] as const;
const THICKNESS: Record<string, number> = { "5": 40, "20": 140, "100": 300 };
export const EMPTY: Hatch = {
  solid: false,
  families: [],
  tiles: [],
  scatter: [],
  fitted: null,
  edge: null,
  rings: null,
};

type HatchProps = EditProps & { chosen: string; onChoose: (name: string) => void };

/** The hatches of a standard: parts at the left, what they draw at the right, as they are changed. */
export function HatchEditor({ document, readOnly, chosen, onChoose, onChange }: HatchProps) {
  const names = Object.keys(document.hatches);
  const [cutScale, setCutScale] = useState<string>("20");
  const [seenScale, setSeenScale] = useState<string>("50");
  const [side, setSide] = useState<"" | "cut" | "seen">("");
  const name = names.includes(chosen) ? chosen : (names[0] ?? "");
  const hatch = document.hatches[name] ?? EMPTY;
  const users = Object.entries(document.materials).filter(
    ([, r]) => r.hatch === name || r.hatch_across === name || r.pattern === name,
  );
  const sizes = [...hatch.families, ...hatch.tiles];
  const pattern =
    users.length > 0
      ? users.every(([, r]) => r.pattern === name)
      : sizes.length > 0 && sizes.every((part) => part.model);
  const seen = side === "" ? pattern : side === "seen"; // as it is used, where nobody chose
  const scale = seen ? seenScale : cutScale;
  const rule = users[0]?.[1];
  const body = {
    hatch,
    tint: (seen ? (rule?.seen_tint ?? rule?.tint) : rule?.tint) ?? "#eeece6",
    scale: Number(scale),
    thickness: THICKNESS[scale] ?? 140,
    seen,
  };
  const { view, problem } = usePicture("/api/hatch-view", body);

  const put = (next: Hatch, as = name) =>
    onChange({ ...document, hatches: { ...document.hatches, [as]: next } });
  const copy = () => {
    let fresh = `${name} 2`;
    for (let n = 3; names.includes(fresh); n++) fresh = `${name} ${n}`;
    put(hatch, fresh);
    onChoose(fresh);
  };
  const remove = () => {
    const { [name]: _gone, ...kept } = document.hatches;
    onChange({ ...document, hatches: kept });
    onChoose(Object.keys(kept)[0] ?? "");
  };
  return (
    <div className="flex h-full min-h-0">
      <ul className="w-40 shrink-0 overflow-y-auto border-r border-base-300 py-1" aria-label="Hatches">
        {names.map((n) => (
          <li key={n}>
            <button
              type="button"
              aria-current={n === name}
              className={`w-full cursor-pointer truncate px-2 py-0.5 text-left ${n === name ? "bg-base-300 font-semibold" : "hover:bg-base-300/60"}`}
              onClick={() => onChoose(n)}
            >
              {n}
            </button>
          </li>
        ))}
      </ul>
      <div className="flex w-96 shrink-0 flex-col gap-2 overflow-y-auto border-r border-base-300 p-3">
        <div className="flex flex-wrap gap-1">
          <button type="button" className="btn btn-xs" disabled={readOnly} onClick={copy}>
            <Copy size={12} /> Copy
          </button>
          <HatchFiles
            name={name}
            hatch={hatch}
            readOnly={readOnly}
            onTake={(taken, as) => {
              put(taken, as);
              onChoose(as);
            }}
          />
          <button
            type="button"
            className="btn btn-ghost btn-xs"
            disabled={readOnly || users.length > 0}
            title={users.length > 0 ? `Used by ${users.map(([k]) => k).join(", ")}` : "Delete this hatch"}
            onClick={remove}
          >
            <Trash2 size={12} /> Delete
          </button>
        </div>
        <p className="text-xs opacity-85">
          {users.length > 0 ? `Used by ${users.map(([key]) => key).join(", ")}` : "No material uses it yet"}
        </p>
        <fieldset disabled={readOnly} className="contents">
          <HatchParts hatch={hatch} readOnly={readOnly} onChange={(next) => put(next)} />
        </fieldset>
      </div>
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex h-8 items-center gap-2 border-b border-base-300 px-2">
          <h3 className="font-semibold">{name}</h3>
          <div className="w-40">
            <Choice
              label="at"
              value={scale}
              options={seen ? SEEN_SCALES : SCALES}
              onChange={seen ? setSeenScale : setCutScale}
            />
          </div>
          <div className="w-44">
            <Choice label="shown" value={seen ? "seen" : "cut"} options={SIDES} onChange={setSide} />
          </div>
          {problem && (
            <span role="alert" className="truncate text-xs text-error">
              {problem}
            </span>
          )}
        </div>
        <div className="min-h-0 flex-1">
          <DrawingCanvas name={`Preview of ${name}`} cameraKey={`hatch preview ${scale}`} view={view} />
        </div>
      </div>
    </div>
  );
}

type PartsProps = { hatch: Hatch; readOnly: boolean; onChange: (hatch: Hatch) => void };

function HatchParts({ hatch, readOnly, onChange }: PartsProps) {
  return (
    <>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={hatch.solid}
          onChange={(event) => onChange({ ...hatch, solid: event.target.checked })}
        />
        Solid
      </label>
      <FamilyRows families={hatch.families} onChange={(families) => onChange({ ...hatch, families })} />
      <TileRows tiles={hatch.tiles} readOnly={readOnly} onChange={(tiles) => onChange({ ...hatch, tiles })} />
      <ScatterRows scatter={hatch.scatter} onChange={(scatter) => onChange({ ...hatch, scatter })} />
      <FigureFields hatch={hatch} onChange={onChange} />
    </>
  );
}

type FileProps = {
  name: string;
  hatch: Hatch;
  readOnly: boolean;
  onTake: (hatch: Hatch, name: string) => void;
};

/** A hatch as a file: given away, or taken over under the file's name. */
function HatchFiles({ name, hatch, readOnly, onTake }: FileProps) {
  const input = useRef<HTMLInputElement>(null);
  const take = async (file: File | undefined) => {
    if (!file) return;
    try {
      onTake(
        { ...EMPTY, ...(JSON.parse(await file.text()) as Partial<Hatch>) },
        file.name.replace(/\.json$/i, ""),
      );
    } catch {
      toast.error(`${file.name} is not JSON; choose a hatch that was exported here.`);
    }
    if (input.current) input.current.value = "";
  };
  return (
    <>
      <a
        className="btn btn-xs"
        download={`${name}.json`}
        href={`data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify(hatch, null, 1))}`}
      >
        Export hatch
      </a>
      <button type="button" className="btn btn-xs" disabled={readOnly} onClick={() => input.current?.click()}>
        <Plus size={12} /> Import hatch
      </button>
      <input
        ref={input}
        hidden
        type="file"
        accept=".json"
        aria-label="Hatch as JSON"
        onChange={(event) => take(event.target.files?.[0])}
      />
    </>
  );
}
