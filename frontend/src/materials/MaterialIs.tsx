import { useState } from "react";
import { settleMaterials, useMaterials } from "../api/materials";
import { useProject } from "../api/queries";
import { ClassChoice } from "./ClassChoice";

/** What the material that was pointed at is: said here, it is so everywhere. */
export function MaterialIs({ project, name }: { project: number; name: string }) {
  const [open, setOpen] = useState(false);
  const { data: of } = useProject(project);
  const { data } = useMaterials(project, open);
  if (!name) return null;
  if (!open)
    return (
      <button type="button" className="link self-start text-xs" onClick={() => setOpen(true)}>
        Say what “{name}” is
      </button>
    );
  const row = data?.materials.find((m) => m.name === name);
  return (
    <div className="flex items-center gap-2 text-xs">
      <span className="min-w-0 truncate">“{name}” is, everywhere,</span>
      {row && of && (
        <ClassChoice
          label={`What ${name} is`}
          value={row.is_a}
          classes={data?.classes ?? []}
          onChoose={(is) => settleMaterials(of, { [name]: is })}
        />
      )}
    </div>
  );
}
