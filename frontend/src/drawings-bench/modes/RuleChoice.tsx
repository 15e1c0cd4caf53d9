import type { DrawingKind } from "../../api/client";
import { useDrawingRules } from "../../api/drawing-rules";
import { nextRule, useRules } from "../../desk/rules";

/** The rule by which what is drawn next begins; nothing where there is none for its kind. */
export function RuleChoice({
  project,
  kind,
  label = "Rule",
}: {
  project: number;
  kind: DrawingKind;
  label?: string;
}) {
  const { data: rules = [] } = useDrawingRules(project);
  const { picked, pick } = useRules();
  const fitting = rules.filter((r) => r.rule.kind === kind);
  if (fitting.length === 0) return null;
  return (
    <label className="mx-2 inline-flex items-center gap-1.5 text-xs">
      <span className="min-w-0 flex-1 truncate opacity-80">{label}</span>
      <select
        aria-label={`Rule for a new ${kind}`}
        className="select select-xs w-32"
        value={nextRule(rules, picked, project, kind)?.key ?? ""}
        onChange={(event) => {
          pick(project, kind, event.target.value);
          event.target.blur(); // keys go to the tool again
        }}
      >
        {fitting.map((r) => (
          <option key={r.key} value={r.key}>
            {r.rule.name}
          </option>
        ))}
        <option value="">none</option>
      </select>
    </label>
  );
}
