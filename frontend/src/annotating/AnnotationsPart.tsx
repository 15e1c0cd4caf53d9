import { useState } from "react";
import { toast } from "sonner";
import { copyDrawing, findText, placeSet, useAnnotations, useModelWords } from "../api/annotations";
import type { Annotation, Drawing, FoundText, SetRule, Style } from "../api/client";
import { putDrawing, queryClient, report, useSettings } from "../api/queries";
import { useBench } from "../desk/drawings-state";
import { Check } from "../fields/Choice";
import { NumberField } from "../fields/NumberField";
import { Part } from "../fields/Part";
import { useAnnotate } from "./state";

type Props = {
  project: number;
  drawing: Drawing;
  style: Style;
  onSave: (change: { style: Style }) => void;
  onChoose: (drawing: number) => void;
};

/** The annotations of a drawing: sets placed by rule, all of them listed, words looked for in all drawings. */
export function AnnotationsPart({ project, drawing, style, onSave, onChoose }: Props) {
  const { data: annotations = [] } = useAnnotations(project, drawing);
  const picked = useBench((s) => s.picked);
  const plan = drawing.cut.kind === "plan";
  const sets = (useSettings().data?.sets ?? []).filter(
    ({ drawings }) => drawings === "any" || (drawings === "plan") === plan,
  );
  const wall =
    picked?.drawing === drawing.id && picked.found[picked.at]?.kind === "wall"
      ? picked.found[picked.at]
      : null;
  const [says, setSays] = useState("");
  const place = async (rule: SetRule, subject = "") => {
    try {
      const told = says && ["rooms", "doors", "windows"].includes(rule) ? [says] : [];
      const done = await placeSet(drawing.id, rule, subject, told);
      const parts = [
        done.added > 0 && `${done.added} placed`,
        done.changed > 0 && `${done.changed} renewed`,
        done.removed > 0 && `${done.removed} gone`,
        done.kept > 0 && `${done.kept} as they were`,
      ].filter(Boolean);
      toast(parts.join(", ") || "There is nothing for this set here.");
      for (const finding of done.findings) toast.warning(finding);
    } catch (error) {
      report(error);
    }
  };
  return (
    <Part title="Annotations">
      <Check
        label="Shown"
        checked={style.annotations}
        onChange={(on) => onSave({ style: { ...style, annotations: on } })}
      />
      <NumberField
        label="Note margin"
        unit="mm"
        value={style.note_margin}
        placeholder="standard"
        least={0}
        most={500}
        onChange={(note_margin) => onSave({ style: { ...style, note_margin } })}
      />
      <LabelsSay project={project} says={says} onSays={setSays} />
      <p className="text-xs opacity-85">Place or renew; what was moved stays</p>
      <div className="flex flex-wrap gap-1">
        {sets.map(
          ({ rule, words, of_wall }) =>
            (!of_wall || wall) && (
              <button
                key={rule}
                type="button"
                className="btn btn-xs"
                onClick={() => place(rule, of_wall ? wall?.guid : "")}
              >
                {words}
              </button>
            ),
        )}
      </div>
      {annotations.length > 0 && <AnnotationList annotations={annotations} drawing={drawing.id} />}
      <Search project={project} onChoose={onChoose} />
      <CopyDrawing project={project} drawing={drawing} onChoose={onChoose} />
    </Part>
  );
}

const SAYS = ["mark", "type", "size", "name", "number", "material"];

/** What labels of rooms, doors and windows say when their set is placed or renewed next. */
function LabelsSay({
  project,
  says,
  onSays,
}: {
  project: number;
  says: string;
  onSays: (says: string) => void;
}) {
  const [opened, setOpened] = useState(false);
  const { data: words } = useModelWords(project, opened);
  return (
    <label className="flex items-center gap-2">
      <span className="w-20 shrink-0 opacity-80">Labels say</span>
      <select
        className="select select-xs min-w-0 flex-1"
        value={says}
        onFocus={() => setOpened(true)}
        onChange={(event) => onSays(event.target.value)}
      >
        <option value="">as before</option>
        {SAYS.map((one) => (
          <option key={one}>{one}</option>
        ))}
        {words?.properties.map((one) => (
          <option key={one.name} value={`property: ${one.name}`}>
            {one.name}
          </option>
        ))}
      </select>
    </label>
  );
}

const MOST = 60; // listed

function AnnotationList({ annotations, drawing }: { annotations: Annotation[]; drawing: number }) {
  const { chosen, choose } = useAnnotate();
  const ids = chosen?.drawing === drawing ? chosen.ids : [];
  return (
    <details>
      <summary className="cursor-pointer text-xs">
        {annotations.length} {annotations.length === 1 ? "annotation" : "annotations"}
      </summary>
      <ul aria-label="Annotations" className="max-h-40 overflow-y-auto">
        {annotations.slice(0, MOST).map((a) => (
          <li key={a.id}>
            <button
              type="button"
              aria-pressed={ids.includes(a.id)}
              className={`w-full truncate rounded px-1 text-left text-xs ${ids.includes(a.id) ? "bg-base-300" : ""}`}
              onClick={(event) => choose({ drawing, ids: event.shiftKey ? [...ids, a.id] : [a.id] })}
            >
              {SIGNS[a.state]}
              {a.document.kind} <span className="opacity-75">{a.texts[0]?.text ?? ""}</span>
            </button>
          </li>
        ))}
      </ul>
      {annotations.length > MOST && (
        <p className="text-xs opacity-75">and {annotations.length - MOST} more</p>
      )}
    </details>
  );
}

const SIGNS = { exact: "", near: "≈ ", lost: "✕ " } as const;

function Search({ project, onChoose }: Pick<Props, "project" | "onChoose">) {
  const [words, setWords] = useState("");
  const [found, setFound] = useState<FoundText[] | null>(null);
  const look = async () => {
    if (!words.trim()) return setFound(null);
    try {
      setFound(await findText(project, words));
    } catch (error) {
      report(error);
    }
  };
  return (
    <>
      <input
        type="search"
        aria-label="Find words in all drawings"
        className="input input-xs w-full"
        placeholder="Find words in all drawings"
        value={words}
        onChange={(event) => setWords(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && look()}
      />
      {found?.length === 0 && <p className="text-xs opacity-85">No annotation says so.</p>}
      {found && found.length > 0 && (
        <ul aria-label="Found words" className="max-h-40 overflow-y-auto text-xs">
          {found.map((f) => (
            <li key={f.id}>
              <button
                type="button"
                className="w-full truncate text-left"
                onClick={() => {
                  onChoose(f.drawing_id);
                  useAnnotate.getState().choose({ drawing: f.drawing_id, ids: [f.id] });
                }}
              >
                <span className="opacity-75">{f.drawing}:</span> {f.text}
              </button>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

function CopyDrawing({ project, drawing, onChoose }: Pick<Props, "project" | "drawing" | "onChoose">) {
  const [wanted, setWanted] = useState({
    annotations: true,
    touch_ups: true,
    levels: true,
    one_letter: false,
  });
  const copy = async () => {
    try {
      const made = await copyDrawing(drawing.id, { name: "", ...wanted });
      putDrawing(queryClient, project, made);
      onChoose(made.id);
    } catch (error) {
      report(error);
    }
  };
  const check = (key: keyof typeof wanted, label: string) => (
    <Check label={label} checked={wanted[key]} onChange={(on) => setWanted({ ...wanted, [key]: on })} />
  );
  return (
    <details>
      <summary className="cursor-pointer text-xs">Copy this drawing</summary>
      {check("annotations", "with its annotations")}
      {check("touch_ups", "with its touch-ups")}
      {check("levels", "with its levels")}
      {drawing.letter !== "" && !drawing.callout && check("one_letter", "under its letter and marker")}
      <button type="button" className="btn btn-xs" onClick={copy}>
        Copy
      </button>
    </details>
  );
}
