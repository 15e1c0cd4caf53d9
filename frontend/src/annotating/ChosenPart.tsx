import { useState } from "react";
import { toast } from "sonner";
import { actOnAnnotations, editAnnotation, useAnnotations } from "../api/annotations";
import type { Annotation, AnnotationsAct, Drawing, Standard } from "../api/client";
import { Check, Choice } from "../fields/Choice";
import { NumberField } from "../fields/NumberField";
import { Part } from "../fields/Part";
import { useCommand } from "../shell/commands";
import { KeepSymbol } from "./KeepSymbol";
import { LayerWords } from "./LayerWords";
import { useAnnotate } from "./state";

type Props = { project: number; drawing: Drawing; drawings: Drawing[]; standard: Standard | undefined };
const HEIGHTS = [
  ["small", "small"],
  ["label", "usual"],
  ["heading", "heading"],
  ["title", "title"],
] as const;

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

function One({
  project,
  one,
  standard,
}: {
  project: number;
  one: Annotation;
  standard: Standard | undefined;
}) {
  const d = one.document;
  const save = (change: Record<string, unknown>) => editAnnotation(project, one, { change });
  const rules = standard?.document.annotations;
  const names = (of: object | undefined) => Object.keys(of ?? {}).map((k) => [k, k] as const);
  return (
    <>
      {(d.kind === "note" || d.kind === "label") && (
        <WordsField
          key={`${one.id} ${d.text}`}
          text={d.text}
          said={d.kind === "label" ? one.texts.map((t) => t.text).join("\n") : ""}
          onSave={(text, said) => save({ text, ...(d.kind === "label" && { instead_of: text ? said : "" }) })}
        />
      )}
      {d.kind === "layer note" && <LayerWords one={one} onSave={(wording) => save({ wording })} />}
      {"height" in d && (
        <Choice label="Text" value={d.height} options={HEIGHTS} onChange={(height) => save({ height })} />
      )}
      {d.kind === "note" && (
        <>
          <NumberField
            label="Width"
            unit="mm"
            value={d.width}
            least={0}
            most={1000}
            onChange={(width) => save({ width })}
          />
          <Choice
            label="End"
            value={d.end}
            options={[
              ["arrow", "arrow"],
              ["dot", "dot"],
              ["none", "none"],
            ]}
            onChange={(end) => save({ end })}
          />
          <Check label="Leader" checked={d.leaders} onChange={(leaders) => save({ leaders })} />
          <Check label="Elbow" checked={d.elbow} onChange={(elbow) => save({ elbow })} />
        </>
      )}
      {(d.kind === "note" || d.kind === "layer note") && (
        <Choice
          label="Words stand"
          value={d.align}
          options={[
            ["left", "right of the leader"],
            ["right", "left of the leader"],
          ]}
          onChange={(align) => save({ align })}
        />
      )}
      {d.kind === "layer note" && (
        <Check label="Thicknesses" checked={d.thickness} onChange={(thickness) => save({ thickness })} />
      )}
      {d.kind === "label" && (
        <>
          <LabelSays says={d.says} onSave={(says) => save({ says })} />
          <Check label="Framed" checked={d.framed} onChange={(framed) => save({ framed })} />
        </>
      )}
      {d.kind === "dimension" && <DimensionFields one={one} onSave={save} />}
      {d.kind === "slope" && (
        <Choice
          label="Written as"
          value={d.as}
          options={[
            ["percent", "percent"],
            ["ratio", "ratio"],
            ["degrees", "degrees"],
          ]}
          onChange={(as) => save({ as })}
        />
      )}
      {d.kind === "line" && (
        <>
          <Choice
            label="Line type"
            value={d.line_type}
            options={names(rules?.line_types)}
            onChange={(line_type) => save({ line_type })}
          />
          <Check label="Closed" checked={d.closed} onChange={(closed) => save({ closed })} />
        </>
      )}
      {d.kind === "area" && (
        <>
          <Choice
            label="Hatch"
            value={d.hatch}
            options={names(standard?.document.hatches)}
            onChange={(hatch) => save({ hatch })}
          />
          <Check label="Outline" checked={d.outline} onChange={(outline) => save({ outline })} />
          <Check label="Covers what is under it" checked={d.masks} onChange={(masks) => save({ masks })} />
        </>
      )}
      {d.kind === "symbol" && (
        <>
          <Choice
            label="Symbol"
            value={d.symbol}
            options={names(rules?.symbols)}
            onChange={(symbol) => save({ symbol })}
          />
          <NumberField
            label="Angle"
            unit="°"
            value={d.angle}
            least={-360}
            most={360}
            onChange={(angle) => save({ angle })}
          />
          <NumberField
            label="Size"
            unit="×"
            value={d.size}
            least={0.1}
            most={20}
            onChange={(size) => save({ size })}
          />
          <WordsField key={`${one.id} ${d.text}`} text={d.text} said="" onSave={(text) => save({ text })} />
        </>
      )}
      {one.worded && <p className="text-xs opacity-85">Some of its words or values were typed by hand.</p>}
    </>
  );
}

type WordsProps = { text: string; said: string; onSave: (text: string, said: string) => unknown };

function WordsField({ text, said, onSave }: WordsProps) {
  const [words, setWords] = useState(text);
  return (
    <textarea
      aria-label="Words"
      className="textarea textarea-xs w-full leading-tight"
      rows={3}
      maxLength={4000}
      value={words}
      placeholder={said || "no words"}
      onChange={(event) => setWords(event.target.value)}
      onBlur={() => words !== text && onSave(words, said)}
    />
  );
}

const PROPERTIES = ["number", "name", "area", "kind", "material", "build-up", "mark", "size"] as const;

function LabelSays({ says, onSave }: { says: readonly string[]; onSave: (says: string[]) => unknown }) {
  return (
    <div className="grid grid-cols-2">
      {PROPERTIES.map((property) => (
        <Check
          key={property}
          label={property}
          checked={says.includes(property)}
          onChange={(on) => {
            const next = PROPERTIES.filter((p) => (p === property ? on : says.includes(p)));
            if (next.length > 0) onSave(next);
          }}
        />
      ))}
    </div>
  );
}

type FieldsProps = { one: Annotation; onSave: (change: Record<string, unknown>) => unknown };

/** A dimension's form and direction, its typed values, and its witness lines one by one. */
function DimensionFields({ one, onSave }: FieldsProps) {
  const d = one.document;
  if (d.kind !== "dimension") return null;
  const values = one.texts.filter((t) => t.role === "dimension text");
  const setWitness = (index: number, part: object) =>
    onSave({
      witness: [
        ...d.witness.filter((w) => w.index !== index),
        { index, start: 0, length: null, shown: true, ...d.witness.find((w) => w.index === index), ...part },
      ],
    });
  const setSaid = (index: number, typed: string) =>
    onSave({
      said: [
        ...d.said.filter((s) => s.index !== index),
        { under: "", moved: null, ...d.said.find((s) => s.index === index), index, typed },
      ],
    });
  return (
    <>
      <Choice
        label="Form"
        value={d.form}
        options={[
          ["chain", "chain"],
          ["running", "running"],
        ]}
        onChange={(form) => onSave({ form })}
      />
      <NumberField
        label="Direction"
        unit="°"
        value={Math.round(d.direction * 100) / 100}
        least={-360}
        most={360}
        onChange={(direction) => onSave({ direction })}
      />
      <p className="text-xs opacity-85">Values; one that is typed is marked as such</p>
      {values.map((value, k) => {
        const typed = d.said.find((s) => s.index === k)?.typed ?? "";
        return (
          <input
            // biome-ignore lint/suspicious/noArrayIndexKey: stretches are told apart by their place
            key={`${k} ${typed}`}
            aria-label={`Value ${k + 1}`}
            className="input input-xs figures w-full text-right"
            defaultValue={typed}
            placeholder={value.text}
            maxLength={60}
            onBlur={(event) => event.target.value !== typed && setSaid(k, event.target.value)}
            onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
          />
        );
      })}
      <p className="text-xs opacity-85">
        Witness lines: how much further off they start, and their length, mm
      </p>
      {d.anchors.map((anchor, k) => {
        const own = d.witness.find((w) => w.index === k);
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: references are told apart by their place
          <div key={k} className="flex items-center gap-1 [&>label]:min-w-0 [&>label]:flex-1">
            <input
              type="checkbox"
              aria-label={`Witness line ${k + 1}`}
              className="checkbox checkbox-xs"
              checked={own?.shown ?? true}
              onChange={(event) => setWitness(k, { shown: event.target.checked })}
            />
            <span className="w-12 shrink-0 truncate text-xs">{anchor.to}</span>
            <NumberField
              label={`Witness line ${k + 1} starts further off`}
              wide={false}
              value={own?.start ?? 0}
              least={-2000}
              most={2000}
              onChange={(start) => setWitness(k, { start })}
            />
            <NumberField
              label={`Length of witness line ${k + 1}`}
              wide={false}
              placeholder="to it"
              value={own?.length ?? null}
              least={0}
              most={2000}
              onChange={(length) => setWitness(k, { length })}
            />
          </div>
        );
      })}
    </>
  );
}
