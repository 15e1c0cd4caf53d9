import type { Cut, Drawing, PlanCut, Project } from "../../api/client";

type Storey = Project["facts"]["storeys"][number];
/** A plan with its cut as it is shown, the storey over which it cuts, and at which level; `beside`: how many others are
 * cut at the same. */
export type PlanHeight = { plan: Drawing; cut: PlanCut; over: Storey; at: number; beside: number };

const STEP = 0.05; // metres by which a height moves; with Alt by single millimetres
const LEAST = 0.05; // metres over its floor
const ALIKE = 0.005; // metres

/** The heights at which plans cut, those called out of others excepted, which follow them. */
export function heightsOf(
  drawings: Drawing[],
  storeys: Storey[],
  shown: (plan: Drawing) => Cut,
): PlanHeight[] {
  const found: PlanHeight[] = [];
  for (const plan of drawings) {
    const cut = shown(plan);
    if (cut.kind !== "plan" || plan.callout) continue;
    const over = storeys.find((s) => s.guid === cut.storey);
    if (!over) continue;
    const at = over.elevation + cut.height;
    found.push({ plan, cut, over, at, beside: found.filter((f) => Math.abs(f.at - at) < ALIKE).length });
  }
  return found;
}

/** The cut of a plan at another level; null where that is not over its floor. */
export function movedTo(cut: PlanCut, over: Storey, level: number, fine: boolean): PlanCut | null {
  const step = fine ? 0.001 : STEP;
  const height = Math.round((level - over.elevation) / step) * step;
  return height < LEAST ? null : { ...cut, height: Math.round(height * 1000) / 1000 };
}
