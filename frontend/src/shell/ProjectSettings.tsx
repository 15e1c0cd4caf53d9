import { ChevronDown } from "lucide-react";
import { useState } from "react";
import type { NameTemplates } from "../api/client";
import { type ProjectChange, saveProject } from "../api/project";
import { useProject } from "../api/queries";
import { Choice } from "../fields/Choice";

const LENGTHS = [
  ["mm", "millimetres"],
  ["m", "metres"],
  ["ft-in", "feet and inches"],
] as const;

const NAMES: readonly (readonly [keyof NameTemplates, string, string])[] = [
  ["plan", "Plans", "{storey} {kind}"],
  ["section", "Sections", "{kind} {letter} {look} {run}: long or cross"],
  ["elevation", "Elevations", "{side} {look} {kind}"],
  ["interior_elevation", "Room walls", "{room} {look} {kind}"],
];

/** The project's name; a click opens what belongs to the whole project. */
export function ProjectSettings({ id }: { id: number }) {
  const { data: project } = useProject(id);
  if (!project) return null;
  const save = (change: ProjectChange) => saveProject(project, change);
  return (
    <details className="relative min-w-0 border-l border-base-300 pl-3">
      <summary className="flex max-w-72 cursor-pointer list-none items-center gap-1" title="Project settings">
        <span className="truncate">{project.name}</span>
        <ChevronDown size={12} className="shrink-0 opacity-70" />
      </summary>
      <div
        key={project.version}
        className="absolute top-8 left-0 z-30 flex w-72 flex-col gap-1.5 rounded border border-base-300 bg-base-100 p-3 shadow-lg"
      >
        <Line label="Project" value={project.name} onSave={(name) => name.trim() && save({ name })} />
        <Line label="Client" value={project.client} onSave={(said) => save({ client: said })} />
        <Choice
          label="Lengths"
          value={project.lengths}
          options={LENGTHS}
          onChange={(lengths) => save({ lengths })}
        />
        <details className="text-xs">
          <summary className="cursor-pointer py-0.5">How drawings are named</summary>
          <div className="flex flex-col gap-1 py-1">
            {NAMES.map(([key, label, fields]) => (
              <div key={key}>
                <Line
                  label={label}
                  value={project.names[key]}
                  onSave={(text) => text.trim() && save({ names: { ...project.names, [key]: text } })}
                />
                <span className="block pl-22 opacity-85">{fields}</span>
              </div>
            ))}
          </div>
        </details>
      </div>
    </details>
  );
}

type LineProps = { label: string; value: string; onSave: (value: string) => void };

function Line({ label, value, onSave }: LineProps) {
  const [text, setText] = useState(value);
  const done = () => text !== value && onSave(text);
  return (
    <label className="flex items-center gap-2">
      <span className="w-20 shrink-0 opacity-80">{label}</span>
      <input
        className="input input-xs w-full"
        value={text}
        maxLength={200}
        onChange={(event) => setText(event.target.value)}
        onBlur={done}
        onKeyDown={(event) => event.key === "Enter" && done()}
      />
    </label>
  );
}
