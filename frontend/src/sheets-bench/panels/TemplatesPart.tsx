import { Plus, Trash2 } from "lucide-react";
import type { Project, Settings } from "../../api/client";
import { useDesigns } from "../../api/designs";
import { useSaveTemplates } from "../../api/sheet-acts";
import { Choice } from "../../fields/Choice";
import { TextField } from "../../fields/TextField";

type Template = Project["templates"]["templates"][number];
type Kind = keyof Template["sets"];
type Rule = NonNullable<Template["sets"][Kind]>[number];
const KINDS: readonly (readonly [Kind, string, readonly Rule[]])[] = [
  ["plan", "Plans", ["rooms", "doors", "windows", "grid"]],
  ["section", "Sections", ["levels", "grid"]],
  ["elevation", "Elevations", ["levels", "grid"]],
  ["detail", "Details", ["layers"]],
];

/** The templates by which drawings are documented in one act. */
export function TemplatesPart({ project, settings }: { project: Project; settings: Settings }) {
  const save = useSaveTemplates(project);
  const { templates } = project.templates;
  const put = (next: Template[]) => save.mutate({ templates: next });
  const change = (at: number, part: Partial<Template>) =>
    put(templates.map((t, k) => (k === at ? { ...t, ...part } : t)));
  const add = () => {
    const first = templates[0];
    const names = new Set(templates.map((t) => t.name));
    const name = ["New template", ...Array.from({ length: 20 }, (_, k) => `New template ${k + 2}`)].find(
      (n) => !names.has(n),
    );
    if (first && name) put([...templates, { ...first, name }]);
  };
  return (
    <section aria-label="Templates" className="flex flex-col gap-2 rounded border border-base-300 p-3">
      <h3 className="font-semibold">Templates to document by</h3>
      {templates.map((t, k) => (
        <details key={t.name}>
          <summary className="cursor-pointer">{t.name}</summary>
          <div className="flex flex-col gap-1.5 py-2 pl-3">
            <TextField label="Name" value={t.name} onEnter={(name) => change(k, { name })} />
            <OnSheet
              project={project}
              settings={settings}
              template={t}
              onChange={(part) => change(k, part)}
            />
            {KINDS.map(([kind, words, rules]) => (
              <fieldset key={kind} className="flex flex-wrap gap-x-3">
                <legend className="float-left w-20 opacity-80">{words}</legend>
                {rules.map((rule) => (
                  <label key={rule} className="flex items-center gap-1">
                    <input
                      type="checkbox"
                      className="checkbox checkbox-xs"
                      checked={t.sets[kind]?.includes(rule) ?? false}
                      onChange={() =>
                        change(k, { sets: { ...t.sets, [kind]: turned(t.sets[kind] ?? [], rule) } })
                      }
                    />
                    {rule}
                  </label>
                ))}
              </fieldset>
            ))}
            <button
              type="button"
              className="btn btn-xs self-start"
              disabled={templates.length === 1}
              onClick={() => put(templates.filter((_, n) => n !== k))}
            >
              <Trash2 size={12} /> Remove
            </button>
          </div>
        </details>
      ))}
      <button type="button" className="btn btn-xs self-start" onClick={add}>
        <Plus size={12} /> Template
      </button>
    </section>
  );
}

const turned = (rules: readonly Rule[], rule: Rule) =>
  rules.includes(rule) ? rules.filter((r) => r !== rule) : [...rules, rule];

type OnSheetProps = {
  project: Project;
  settings: Settings;
  template: Template;
  onChange: (part: Partial<Template>) => void;
};

function OnSheet({ project, settings, template, onChange }: OnSheetProps) {
  const { data: designs = [] } = useDesigns(project.id);
  return (
    <>
      <Choice
        labelWidth="w-16"
        label="Design"
        value={template.design}
        options={designs.map((d) => [d.key, d.name])}
        onChange={(design) => onChange({ design })}
      />
      <Choice
        labelWidth="w-16"
        label="Size"
        value={template.size}
        options={settings.sheet_sizes.map((s) => [s, s])}
        onChange={(size) => onChange({ size: size as Template["size"] })}
      />
      <Choice
        labelWidth="w-16"
        label="Folder"
        value={template.folder}
        options={[
          ["", "that of the drawings' kind"],
          ...project.sheet_register.folders.map((f) => [f.key, f.name] as const),
        ]}
        onChange={(folder) => onChange({ folder })}
      />
    </>
  );
}
