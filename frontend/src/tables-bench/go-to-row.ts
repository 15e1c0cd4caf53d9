import type { Drawing, Project } from "../api/client";
import { correctedElement } from "../api/corrections";
import { elementsOf } from "../api/elements";
import { report } from "../api/queries";
import { useBench } from "../desk/drawings-state";
import { namedBy } from "./row-of";

type Going = {
  project: Project;
  drawings: Drawing[];
  where: "model" | "plan";
  /** "element:" and a GlobalId, "sheet:" or "drawing:" and a number, "correction:" and the name that it is sent under. */
  target: string;
  navigate: (to: string) => void;
};

/** From a row of a table to what it is of: in the model, picked in the plan of its storey, or opened. */
export async function goToRow({ project, drawings, where, target, navigate }: Going) {
  const [kind, called] = namedBy(target);
  if (kind === "sheet") return navigate(`/projects/${project.id}/sheets/${called}`);
  if (kind === "drawing") return navigate(`/projects/${project.id}?drawing=${called}`);
  const name = kind === "correction" ? await correctedElement(project.id, called) : called;
  if (!name) return;
  if (where === "model") return navigate(`/projects/${project.id}/model?element=${encodeURIComponent(name)}`);
  try {
    const [element] = await elementsOf(project.id, [name]);
    const guid = project.facts.storeys.find((s) => s.name === element?.storey)?.guid;
    const plans = drawings.filter((d) => d.kind === "plan" && !d.callout);
    const plan = plans.find((d) => d.cut.kind === "plan" && d.cut.storey === guid) ?? plans[0];
    if (!plan) return;
    const found = element ? await elementsOf(project.id, [name], { cut: plan.cut, style: plan.style }) : [];
    useBench.getState().choose(project.id, plan.id);
    if (found.length > 0) useBench.getState().setPicked({ drawing: plan.id, found, at: 0, many: false });
    navigate(`/projects/${project.id}`);
  } catch (error) {
    report(error);
  }
}
