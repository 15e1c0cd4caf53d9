import { Undo2 } from "lucide-react";
import { useState } from "react";
import type { Drawing, DrawingRule, Following } from "../../api/client";
import {
  backToRule,
  deleteRule,
  editRule,
  followingOf,
  giveRule,
  ruleOfDrawing,
  useDrawingRules,
} from "../../api/drawing-rules";
import { keys, queryClient, report, whenSaved } from "../../api/queries";
import { useRules } from "../../desk/rules";
import { Choice } from "../../fields/Choice";
import { NameForm } from "../../fields/NameForm";
import { Part } from "../../fields/Part";
import { wordsOf } from "./rule-lines";

/** The rule that a drawing follows, in what it departs, and the way back; a finished drawing becomes a rule. */
export function RulePart({ project, drawing }: { project: number; drawing: Drawing }) {
  const { data: rules = [] } = useDrawingRules(project);
  const fitting = rules.filter((r) => r.rule.kind === drawing.kind);
  const followed = fitting.find((r) => r.key === drawing.rule);
  const act = async (what: () => Promise<unknown>) => {
    try {
      await whenSaved(drawing.id); // by its newest version
      await what();
    } catch (error) {
      report(error);
    } finally {
      queryClient.invalidateQueries({ queryKey: keys.drawingRules(project) });
      queryClient.invalidateQueries({ queryKey: keys.drawings(project), exact: true });
    }
  };
  const keep = (name: string) =>
    act(async () => {
      const made = await ruleOfDrawing(project, name, drawing.id);
      useRules.getState().pick(project, drawing.kind, made.key);
    });
  const back = (lines: string[] | null) => act(() => backToRule(project, drawing, lines));
  if (drawing.kind === "blank detail") return null;
  return (
    <Part title="Rule">
      {fitting.length > 0 && (
        <Choice
          label="Follows"
          value={followed?.key ?? ""}
          options={[["", "no rule"], ...fitting.map((r) => [r.key, r.rule.name] as const)]}
          onChange={(key) => act(() => giveRule(project, [drawing.id], key))}
        />
      )}
      {followed && drawing.departs.length > 0 && (
        <ul aria-label="Departs from its rule" className="flex flex-col text-xs">
          {drawing.departs.map((line) => (
            <li key={line} className="flex items-center gap-1">
              <span className="min-w-0 flex-1 truncate">{wordsOf(line)}</span>
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square size-4 min-h-0"
                aria-label={`${wordsOf(line)}: back to the rule`}
                title="Back to the rule"
                onClick={() => back([line])}
              >
                <Undo2 size={12} />
              </button>
            </li>
          ))}
          {drawing.departs.length > 1 && (
            <li>
              <button type="button" className="link" onClick={() => back(null)}>
                All {drawing.departs.length} back to the rule
              </button>
            </li>
          )}
        </ul>
      )}
      {followed && drawing.departs.length === 0 && (
        <p className="text-xs opacity-80">As “{followed.rule.name}” says, in everything.</p>
      )}
      {followed && <RuleChange key={followed.key} rule={followed} drawing={drawing} act={act} />}
      <NameForm label="A new rule" placeholder="Make a rule of this" act="Keep" onName={keep} />
    </Part>
  );
}

type ChangeProps = {
  rule: DrawingRule;
  drawing: Drawing;
  act: (what: () => Promise<unknown>) => Promise<void>;
};

/** The rule changed by this drawing: first a list of what follows. */
function RuleChange({ rule, drawing, act }: ChangeProps) {
  const [following, setFollowing] = useState<Following[] | null>(null);
  const byThis = { drawing_id: drawing.id };
  const changing = (following ?? []).filter((f) => f.changes.length > 0 && f.drawing !== drawing.id);
  return (
    <>
      <div className="flex flex-wrap gap-1">
        {drawing.departs.length > 0 && !following && (
          <button
            type="button"
            className="btn btn-xs"
            onClick={() => act(async () => setFollowing(await followingOf(rule, byThis)))}
          >
            Change “{rule.rule.name}” by this …
          </button>
        )}
        <button type="button" className="btn btn-ghost btn-xs" onClick={() => act(() => deleteRule(rule.id))}>
          Delete the rule
        </button>
      </div>
      {following && (
        <fieldset aria-label="What follows" className="rounded border border-base-300 p-2 text-xs">
          {changing.length === 0 && <p>No other drawing changes.</p>}
          {changing.length > 0 && (
            <ul className="max-h-40 overflow-y-auto">
              {changing.map((f) => (
                <li key={f.drawing}>
                  <b className="font-medium">{f.title}</b>: {f.changes.map(wordsOf).join(", ")}
                </li>
              ))}
            </ul>
          )}
          <div className="mt-1 flex gap-1">
            <button
              type="button"
              className="btn btn-primary btn-xs"
              onClick={() =>
                act(async () => {
                  setFollowing(null);
                  await editRule(rule, byThis);
                })
              }
            >
              Change {changing.length + 1} {changing.length === 0 ? "drawing’s rule" : "drawings"}
            </button>
            <button type="button" className="btn btn-ghost btn-xs" onClick={() => setFollowing(null)}>
              Leave it
            </button>
          </div>
        </fieldset>
      )}
    </>
  );
}
