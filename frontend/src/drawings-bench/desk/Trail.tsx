import type { Drawing, Project } from "../../api/client";

type TrailProps = {
  project: Project;
  drawings: Drawing[];
  current: Drawing | undefined;
  beside: Drawing | undefined;
  onChoose: (drawing: Drawing) => void;
  onBack: () => void;
};

/** From the model down to the drawing; and what stands beside it instead of its source. */
export function Trail({ project, drawings, current, beside, onChoose, onBack }: TrailProps) {
  const steps: Drawing[] = [];
  for (let d = current; d && !steps.includes(d); d = drawings.find((p) => p.id === steps[0]?.parent_id))
    steps.unshift(d);
  return (
    <nav
      aria-label="Trail"
      className="flex min-w-0 flex-1 items-center gap-1.5 px-2 text-xs whitespace-nowrap opacity-85"
    >
      <span className="truncate">{project.facts.name}</span>
      {steps.map((d) => (
        <span key={d.id} className="flex min-w-0 items-center gap-1.5">
          <span aria-hidden="true">›</span>
          <button type="button" className="link link-hover truncate" onClick={() => onChoose(d)}>
            {d.title}
          </button>
        </span>
      ))}
      {beside && (
        <button type="button" className="btn btn-ghost btn-xs truncate" onClick={onBack}>
          beside {beside.title}: back to its source
        </button>
      )}
    </nav>
  );
}
