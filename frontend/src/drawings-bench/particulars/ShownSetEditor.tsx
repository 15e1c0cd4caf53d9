import { Trash2, X } from "lucide-react";
import { useState } from "react";
import { useModelWords } from "../../api/annotations";
import {
  client,
  type ModelWords,
  type Project,
  type ShownRule,
  type ShownSet,
  unwrap,
} from "../../api/client";
import { report } from "../../api/queries";
import { Check } from "../../fields/Choice";
import { disciplineWord } from "../../parts/disciplines";

type Props = { project: Project; shown: ShownSet };

/** The rule of a project's own set: kinds, storeys, materials, values of properties, and single elements. */
export function ShownSetEditor({ project, shown }: Props) {
  const [open, setOpen] = useState(false);
  const { data: words } = useModelWords(project.id, open);
  const { rule } = shown;
  const path = { params: { path: { id: shown.id ?? 0 } } };
  const save = (change: Partial<ShownRule>, name = shown.name) =>
    unwrap<ShownSet>(
      client.PATCH("/api/shown-sets/{id}", {
        ...path,
        body: { name, rule: { ...rule, ...change }, version: shown.version },
      }),
    ).catch(report);
  const remove = () => unwrap<undefined>(client.DELETE("/api/shown-sets/{id}", path)).catch(report);
  const toggled = (list: string[], value: string, on: boolean) =>
    on ? [...list, value] : list.filter((v) => v !== value);
  const kinds = Object.keys(project.facts.kinds);
  const left = rule.without_elements.length;
  const parts = [...new Set((project.facts.parts ?? []).map((p) => p.discipline))];
  return (
    <details className="text-xs" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer py-0.5">The rule of “{shown.name}”</summary>
      <div className="flex flex-col gap-1 py-1">
        <input
          aria-label="Name of the set"
          className="input input-xs"
          defaultValue={shown.name}
          maxLength={60}
          onBlur={(event) => {
            const name = event.target.value.trim();
            if (name && name !== shown.name) save({}, name);
          }}
        />
        <Group title="Leaves out these kinds">
          {kinds.map((kind) => (
            <Check
              key={kind}
              label={kind}
              checked={rule.without_kinds.includes(kind)}
              onChange={(on) => save({ without_kinds: toggled(rule.without_kinds, kind, on) })}
            />
          ))}
        </Group>
        <Group title="Draws these kinds whole">
          {kinds.map((kind) => (
            <Check
              key={kind}
              label={kind}
              checked={rule.whole_kinds.includes(kind)}
              onChange={(on) => save({ whole_kinds: toggled(rule.whole_kinds, kind, on) })}
            />
          ))}
        </Group>
        <Group title="Shows these storeys alone">
          {project.facts.storeys.map((s) => (
            <Check
              key={s.guid}
              label={s.name}
              checked={rule.storeys.includes(s.guid)}
              onChange={(on) => save({ storeys: toggled(rule.storeys, s.guid, on) })}
            />
          ))}
        </Group>
        {parts.length > 1 && (
          <Group title="Leaves out these disciplines">
            {parts.map((discipline) => (
              <Check
                key={discipline}
                label={disciplineWord(discipline)}
                checked={rule.without_disciplines.includes(discipline)}
                onChange={(on) =>
                  save({
                    without_disciplines: on
                      ? [...rule.without_disciplines, discipline]
                      : rule.without_disciplines.filter((d) => d !== discipline),
                  })
                }
              />
            ))}
          </Group>
        )}
        <Group title="Leaves out these materials">
          {words?.materials.map((name) => (
            <Check
              key={name}
              label={name}
              checked={rule.without_materials.includes(name)}
              onChange={(on) => save({ without_materials: toggled(rule.without_materials, name, on) })}
            />
          ))}
        </Group>
        <PropertyRows rule={rule} words={words} onSave={save} />
        {left > 0 && (
          <p>
            {left} single {left === 1 ? "element" : "elements"} left out{" "}
            <button type="button" className="link" onClick={() => save({ without_elements: [] })}>
              show again
            </button>
          </p>
        )}
        <button type="button" className="btn btn-ghost btn-xs justify-start" onClick={remove}>
          <Trash2 size={12} /> Delete this set
        </button>
      </div>
    </details>
  );
}

function Group({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <details>
      <summary className="cursor-pointer py-0.5">{title}</summary>
      <div className="grid grid-cols-1 gap-1 pl-3">{children}</div>
    </details>
  );
}

type RowsProps = {
  rule: ShownRule;
  words: ModelWords | undefined;
  onSave: (change: Partial<ShownRule>) => void;
};

/** Values of the file's properties whose elements are left out. */
function PropertyRows({ rule, words, onSave }: RowsProps) {
  const [name, setName] = useState("");
  const values = words?.properties.find((p) => p.name === name)?.values ?? [];
  const own = rule.without_properties;
  if (words && words.properties.length === 0 && own.length === 0) return null;
  return (
    <Group title="Leaves out by property">
      {own.map((p) => (
        <span key={`${p.name} ${p.value}`} className="flex items-center gap-1">
          <span className="min-w-0 flex-1 break-words">
            {p.name} = {p.value}
          </span>
          <button
            type="button"
            className="btn btn-ghost btn-xs btn-square"
            aria-label={`No longer leave out ${p.name} = ${p.value}`}
            onClick={() => onSave({ without_properties: own.filter((q) => q !== p) })}
          >
            <X size={12} />
          </button>
        </span>
      ))}
      <select
        className="select select-xs"
        aria-label="Property"
        value={name}
        onChange={(event) => setName(event.target.value)}
      >
        <option value="">Property …</option>
        {words?.properties.map((p) => (
          <option key={p.name}>{p.name}</option>
        ))}
      </select>
      {name && (
        <select
          className="select select-xs"
          aria-label="Value"
          value=""
          onChange={(event) => {
            onSave({ without_properties: [...own, { name, value: event.target.value }] });
            setName("");
          }}
        >
          <option value="">Value …</option>
          {values.map((v) => (
            <option key={v}>{v}</option>
          ))}
        </select>
      )}
    </Group>
  );
}
