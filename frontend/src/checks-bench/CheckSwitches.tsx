import { useState } from "react";
import type { Project } from "../api/client";
import { saveProject } from "../api/project";
import { useProject, useSettings } from "../api/queries";
import { Check } from "../fields/Choice";

/** What the checks of the project look for, each to be switched off and on. */
export function CheckSwitches({ project: { id } }: { project: Project }) {
  const { data: settings } = useSettings();
  const { data: project } = useProject(id);
  const [open, setOpen] = useState(false);
  if (!project || !settings) return null;
  const off = project.unchecked;
  return (
    <details
      className="border-b border-base-300 px-4 py-1.5 text-xs"
      open={open}
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary className="cursor-pointer">
        What is looked for{off.length > 0 && `: all but ${off.length} of ${settings.checks.length}`}
      </summary>
      <div className="grid grid-cols-2 gap-x-6 gap-y-1 py-2 lg:grid-cols-3">
        {settings.checks.map(({ rule, says }) => (
          <Check
            key={rule}
            label={says}
            checked={!off.includes(rule)}
            onChange={(on) =>
              saveProject(project, { unchecked: on ? off.filter((r) => r !== rule) : [...off, rule] })
            }
          />
        ))}
      </div>
    </details>
  );
}
