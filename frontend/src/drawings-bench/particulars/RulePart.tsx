import { Undo2 } from "lucide-react";
import { useState } from "react";
import type { Drawing, DrawingRule, DrawingRuleEdit, Following, OfficeRule } from "../../api/client";
import {
  backToRule,
  deleteRule,
  editRule,
  followingOf,
  giveRule,
  keepForOffice,
  ruleOfDrawing,
  takeOfOffice,
  useDrawingRules,
  useOfficeRules,
} from "../../api/drawing-rules";
import { keys, queryClient, report, whenSaved } from "../../api/queries";
import { useRules } from "../../desk/rules";
import { Choice } from "../../fields/Choice";
import { NameForm } from "../../fields/NameForm";
import { Part } from "../../fields/Part";
import { RuleBegins } from "./RuleBegins";
import { wordsOf } from "./rule-lines";

/** The rule that a drawing follows, in what it departs, and the way back; a finished drawing becomes a rule. */
export function RulePart({ project, drawing }: { project: number; drawing: Drawing }) {
  const { data: rules = [] } = useDrawingRules(project);
  const fitting = rules.filter((r) => r.rule.kind === drawing.kind);
  const followed = fitting.find((r) => r.key === drawing.rule);
  const { data: office = [] } = useOfficeRules();
  const offered = office.filter(
    (o) => o.rule.kind === drawing.kind && !fitting.some((r) => r.rule.name === o.rule.name),
  );
  const act = async (what: () => Promise<unknown>) => {
    try {
      await whenSaved(drawing.id); // by its newest version
      await what();
    } catch (error) {
      report(error);
    } finally {
      queryClient.invalidateQueries({ queryKey: keys.drawingRules(project) }); // the office's may have changed
      queryClient.invalidateQueries({ queryKey: ["office rules"] });
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
      {followed && (
        <RuleChange
          key={followed.key}
          project={project}
          rule={followed}
          drawing={drawing}
          office={office.find((o) => o.id === followed.office)}
          act={act}
        />
      )}
      {offered.map((o) => (
        <button
          key={o.id}
          type="button"
          className="btn btn-ghost btn-xs justify-start"
          onClick={() => act(() => takeOfOffice(project, o.id))}
        >
          Take “{o.rule.name}” of the office
        </button>
      ))}
      <NameForm label="A new rule" placeholder="Make a rule of this" act="Make" onName={keep} />
    </Part>
  );
}

type Act = (what: () => Promise<unknown>) => Promise<void>;
type ChangeProps = {
  project: number;
  rule: DrawingRule;
  drawing: Drawing;
  office: OfficeRule | undefined;
  act: Act;
};
type Change = { following: Following[]; make: () => Promise<unknown> };

/** The rule changed by this drawing, or by the office's: first a list of what follows. */
function RuleChange({ project, rule, drawing, office, act }: ChangeProps) {
  const [change, setChange] = useState<Change | null>(null);
  const byThis = { drawing_id: drawing.id };
  const offer = (said: Partial<DrawingRuleEdit>, make: Change["make"]) =>
    act(async () => setChange({ following: await followingOf(rule, said), make }));
  const button = "btn btn-ghost btn-xs justify-start";
  return (
    <>
      {office && rule.departs.length > 0 && (
        <p className="text-xs">
          The office’s “{rule.rule.name}” says something else: {rule.departs.map(wordsOf).join(", ")}.
        </p>
      )}
      <div className="flex flex-wrap gap-1">
        {drawing.departs.length > 0 && !change && (
          <button
            type="button"
            className={button}
            onClick={() => offer(byThis, () => editRule(rule, byThis))}
          >
            Change “{rule.rule.name}” by this …
          </button>
        )}
        {office && rule.departs.length > 0 && !change && (
          <button
            type="button"
            className={button}
            onClick={() => {
              const { shown_set } = rule.rule.cut ?? {}; // which ones it names is found out when it is taken
              const { standard } = rule.rule.style ?? {};
              const cut = { ...office.rule.cut, shown_set } as DrawingRuleEdit["cut"];
              const style = { ...office.rule.style, standard } as DrawingRuleEdit["style"];
              offer({ cut, style }, () => takeOfOffice(project, office.id));
            }}
          >
            Take over the office’s …
          </button>
        )}
        {(!office || rule.departs.length > 0) && (
          <button type="button" className={button} onClick={() => act(() => keepForOffice(rule.id))}>
            Keep for the office
          </button>
        )}
        <button type="button" className={button} onClick={() => act(() => deleteRule(rule.id))}>
          Delete the rule
        </button>
      </div>
      <RuleBegins project={project} rule={rule} onSave={(begins) => act(() => editRule(rule, { begins }))} />
      {change && (
        <WhatFollows
          following={change.following.filter((f) => f.changes.length > 0)}
          onLeave={() => setChange(null)}
          onChange={() =>
            act(async () => {
              setChange(null);
              await change.make();
            })
          }
        />
      )}
    </>
  );
}

type FollowsProps = { following: Following[]; onChange: () => void; onLeave: () => void };

function WhatFollows({ following, onChange, onLeave }: FollowsProps) {
  return (
    <fieldset aria-label="What follows" className="rounded border border-base-300 p-2 text-xs">
      {following.length === 0 ? (
        <p>No other drawing changes.</p>
      ) : (
        <ul className="max-h-40 overflow-y-auto">
          {following.map((f) => (
            <li key={f.drawing}>
              <b className="font-medium">{f.title}</b>: {f.changes.map(wordsOf).join(", ")}
            </li>
          ))}
        </ul>
      )}
      <div className="mt-1 flex gap-1">
        <button type="button" className="btn btn-primary btn-xs" onClick={onChange}>
          Change the rule
        </button>
        <button type="button" className="btn btn-ghost btn-xs" onClick={onLeave}>
          Leave it
        </button>
      </div>
    </fieldset>
  );
}
