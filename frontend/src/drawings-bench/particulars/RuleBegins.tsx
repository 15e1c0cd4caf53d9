import { useState } from "react";
import type { DrawingRule } from "../../api/client";
import { useDesigns } from "../../api/designs";
import { useSettings } from "../../api/queries";
import { useSharedExtents } from "../../api/shared-extents";
import { Check, Choice } from "../../fields/Choice";
import { TextField } from "../../fields/TextField";

type Begins = NonNullable<DrawingRule["rule"]["begins"]>;
const NONE: Begins = { sets: [], series: "", title: "", shared_extents: "", design: "", size: "" };
type Props = { project: number; rule: DrawingRule; onSave: (begins: Begins) => void };

/** What is done for new drawings of a rule: sets of annotations, their series, how they are named, their sheets. */
export function RuleBegins({ project, rule, onSave }: Props) {
  const [open, setOpen] = useState(false);
  const { data: settings } = useSettings();
  const { data: designs = [] } = useDesigns(project);
  const begins: Begins = rule.rule.begins ?? NONE;
  const { data: boxes = [] } = useSharedExtents(project);
  const flat = rule.rule.kind.endsWith("plan");
  const sets = (settings?.sets ?? []).filter(
    (s) => !s.of_wall && (s.drawings === "any" || (s.drawings === "plan") === flat),
  );
  const save = (part: Partial<Begins>) => onSave({ ...begins, ...part });
  return (
    <details className="text-xs" open={open} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer py-0.5">What new ones begin with</summary>
      {open && (
        <div className="flex flex-col gap-1 py-1">
          {sets.map((s) => (
            <Check
              key={s.rule}
              label={s.words}
              checked={begins.sets?.includes(s.rule) ?? false}
              onChange={(on) =>
                save({
                  sets: on
                    ? [...(begins.sets ?? []), s.rule]
                    : (begins.sets ?? []).filter((one) => one !== s.rule),
                })
              }
            />
          ))}
          {(!flat || rule.rule.kind === "enlarged plan") && (
            <TextField
              label="Series"
              title="What their marks begin with: S gives S1, S2 …"
              most={3}
              value={begins.series ?? ""}
              mayBeEmpty
              onEnter={(text) => save({ series: text.toUpperCase() })}
            />
          )}
          <TextField
            label="Named"
            title="For as long as they follow: {kind}, {letter}, {storey} …"
            most={120}
            value={begins.title ?? ""}
            mayBeEmpty
            onEnter={(title) => save({ title })}
          />
          <Choice
            label="Extents"
            value={begins.shared_extents ?? ""}
            options={[["", "its own"], ...boxes.map((b) => [b.key, b.name] as const)]}
            onChange={(shared_extents) => save({ shared_extents })}
          />
          <Choice
            label="Sheets"
            value={begins.design ?? ""}
            options={[["", "by their template"], ...designs.map((d) => [d.key, d.document.name] as const)]}
            onChange={(design) => save({ design })}
          />
          <Choice
            label="Size"
            value={begins.size ?? ""}
            options={[
              ["", "by their template"],
              ...(settings?.sheet_sizes ?? []).map((s) => [s, s] as const),
            ]}
            onChange={(size) => save({ size: size as Begins["size"] })}
          />
        </div>
      )}
    </details>
  );
}
