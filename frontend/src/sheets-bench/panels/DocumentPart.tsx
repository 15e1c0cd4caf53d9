import { useState } from "react";
import { useNavigate } from "react-router";
import type { Project } from "../../api/client";
import { sayWhatIsLeft, useDocument } from "../../api/sheet-acts";

/** Drawings annotated, put on sheets of their own and entered in the register in one act, by a template. */
export function DocumentPart({ project, drawings }: { project: Project; drawings: number[] }) {
  const { templates } = project.templates;
  const [chosen, setChosen] = useState(templates[0]?.name ?? "");
  const act = useDocument(project.id);
  const navigate = useNavigate();
  // awaited, as this part is gone by then where no drawing waits any more
  const start = async () => {
    const done = await act.mutateAsync({ template: chosen, drawings }).catch(() => null); // told by the act
    if (!done) return;
    sayWhatIsLeft(done);
    if (done.sheets[0]) navigate(`/projects/${project.id}/sheets/${done.sheets[0].id}`);
  };
  return (
    <div className="flex gap-1">
      <select
        className="select select-xs min-w-0 flex-1"
        aria-label="Template"
        value={chosen}
        onChange={(event) => setChosen(event.target.value)}
      >
        {templates.map((t) => (
          <option key={t.name}>{t.name}</option>
        ))}
      </select>
      <button
        type="button"
        className="btn btn-xs"
        title="Annotation sets, sheet and register entry in one act"
        disabled={act.isPending || drawings.length === 0}
        onClick={start}
      >
        Document {drawings.length}
      </button>
    </div>
  );
}
