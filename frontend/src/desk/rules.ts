import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { Cut, DrawingKind, DrawingRule, Settings } from "../api/client";
import { knownRules } from "../api/drawing-rules";

type Picked = {
  /** The key of the rule that was picked for a kind of drawing, empty for none, by project and kind. */
  picked: Record<string, string>;
  pick: (project: number, kind: DrawingKind, rule: string) => void;
};

export const useRules = create<Picked>()(
  persist(
    (set) => ({
      picked: {},
      pick: (project, kind, rule) =>
        set((old) => ({ picked: { ...old.picked, [`${project} ${kind}`]: rule } })),
    }),
    { name: "edge-slice rules" },
  ),
);

/** The rule by which the next drawing of a kind begins: the one that was picked, else the first. */
export function nextRule(
  rules: DrawingRule[],
  picked: Record<string, string>,
  project: number,
  kind: DrawingKind,
): DrawingRule | undefined {
  const fitting = rules.filter((r) => r.rule.kind === kind);
  const key = picked[`${project} ${kind}`];
  return key === "" ? undefined : (fitting.find((r) => r.key === key) ?? fitting[0]);
}

export const ruleNow = (project: number, kind: DrawingKind) =>
  nextRule(knownRules(project), useRules.getState().picked, project, kind);

const kindsOf = (rules: DrawingRule[]) => [...new Set(rules.map((one) => one.rule.kind))];

/** The rules by which the next drawings of all kinds begin, by their keys. */
export const rulesNow = (project: number): string[] =>
  kindsOf(knownRules(project)).flatMap((kind) => ruleNow(project, kind)?.key ?? []);

/** What a rule says of any cut: how far it looks, and what shows. */
export function seenBy(rule: DrawingRule | undefined): Partial<NonNullable<DrawingRule["rule"]["cut"]>> {
  if (!rule?.rule.cut) return {};
  const { height, overhead, ...seen } = rule.rule.cut;
  return seen;
}

/** What a new drawing begins with, as a rule has it. */
export function settingsBy(rule: DrawingRule | undefined, settings: Settings): Settings {
  if (!rule) return settings;
  const { cut, style } = rule.rule;
  return {
    ...settings,
    new_style: { ...settings.new_style, ...style },
    new_section: { ...settings.new_section, ...seenBy(rule) },
    new_plan: { ...settings.new_plan, ...cut },
  };
}

/** What kind of drawing a cut makes. */
export function kindOf(cut: Cut): DrawingKind {
  if (cut.kind === "plan") return cut.look === "up" ? "ceiling plan" : "plan";
  if (cut.kind === "plane") return cut.of === "view" ? "opened view" : "free section";
  if (cut.kind === "blank") return "blank detail";
  if (cut.kind !== "section") return cut.kind;
  if (cut.of === "wall") return "wall section";
  return cut.perspective ? "perspective section" : "section";
}
