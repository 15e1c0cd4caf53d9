import { toast } from "sonner";
import { actOnAnnotations, editAnnotation, useAnnotations } from "../api/annotations";
import type { Annotation, AnnotationsAct, Drawing, Standard } from "../api/client";
import { Choice } from "../fields/Choice";
import { Part } from "../fields/Part";
import { useCommand } from "../shell/commands";
import { KeepSymbol } from "./KeepSymbol";
import { SETTINGS } from "./kinds/kinds";
import { HEIGHTS } from "./kinds/words";
import { useAnnotate } from "./state";

type Props = { project: number; drawing: Drawing; drawings: Drawing[]; standard: Standard | undefined };
/** The settings of the chosen annotations. */
export function ChosenPart({ project, drawing, drawings, standard }: Props) {
  const { chosen, choose } = useAnnotate();
  const { data: annotations = [] } = useAnnotations(project, drawing);
  const found = chosen?.drawing === drawing.id ? annotations.filter((a) => chosen.ids.includes(a.id)) : [];
  const ids = found.map((a) => a.id);
  const act = (kind: AnnotationsAct["act"], more = {}) =>
    actOnAnnotations(project, drawing.id, ids, kind, more);
  const remove = async () => {
    choose(null);
    await act("delete");
  };
  useCommand({
    name: "Delete the chosen annotations",
    group: "Annotate",
    keys: "backspace",
    enabled: found.length > 0,
    run: remove,
  });
  const [one] = found;
  if (!one) return null;
  return (
    <Part title={found.length === 1 ? one.document.kind : `${found.length} annotations`}>
      {one.findings.map((finding) => (
        <p key={finding} className="text-xs text-warning">
          {finding}
        </p>
      ))}
      {found.length === 1 && <One project={project} one={one} standard={standard} />}
      {found.length > 1 && <Several act={act} />}
      <KeepSymbol project={project} lines={found} standard={standard} />
      <CopyTo
        drawings={drawings.filter((d) => d.id !== drawing.id)}
        onCopy={(id) => act("copy", { drawing: id })}
      />
      <button type="button" className="btn btn-xs" onClick={remove}>
        Delete <kbd className="kbd kbd-xs">⌫</kbd>
      </button>
    </Part>
  );
}

function Several({ act }: { act: (kind: AnnotationsAct["act"], more?: object) => unknown }) {
  const align = (to: AnnotationsAct["to"], words: string) => (
    <button type="button" className="btn btn-xs" onClick={() => act("align", { to })}>
      {words}
    </button>
  );
  return (
    <>
      <p className="text-xs opacity-85">Align by</p>
      <div className="flex flex-wrap gap-1">
        {align("left", "left")}
        {align("right", "right")}
        {align("top", "top")}
        {align("base", "base")}
      </div>
      <div className="flex gap-1">
        <button type="button" className="btn btn-xs" onClick={() => act("spread", { to: "level" })}>
          Spread upwards
        </button>
        <button type="button" className="btn btn-xs" onClick={() => act("spread", { to: "upright" })}>
          Spread across
        </button>
      </div>
      <Choice
        label="Text"
        value="label"
        options={HEIGHTS}
        onChange={(height) => act("style", { change: { height } })}
      />
    </>
  );
}

function CopyTo({ drawings, onCopy }: { drawings: Drawing[]; onCopy: (id: number) => unknown }) {
  return (
    <select
      aria-label="Copy to another drawing"
      className="select select-xs w-full"
      value=""
      onChange={async (event) => {
        const target = drawings.find((d) => d.id === Number(event.target.value));
        if (target && (await onCopy(target.id))) toast.success(`Copied to “${target.title}”`);
      }}
    >
      <option value="">Copy to another drawing …</option>
      {drawings.map((d) => (
        <option key={d.id} value={d.id}>
          {d.title}
        </option>
      ))}
    </select>
  );
}

type OneProps = { project: number; one: Annotation; standard: Standard | undefined };

function One({ project, one, standard }: OneProps) {
  const save = (change: Record<string, unknown>) => editAnnotation(project, one, { change });
  const Settings = SETTINGS[one.document.kind];
  return (
    <>
      {Settings && <Settings one={one} standard={standard} save={save} />}
      {one.worded && <p className="text-xs opacity-85">Some of its words or values were typed by hand.</p>}
    </>
  );
}
