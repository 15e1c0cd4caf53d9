import type { Drawing, Project } from "../../api/client";

export const isPlanOf = (drawing: Drawing, storey: string) =>
  drawing.cut.kind === "plan" && drawing.cut.storey === storey;

/** The floor that a drawing is nearest to, metres: parts of the model near it come first. */
export function heightOf(drawing: Drawing | undefined, drawings: Drawing[], project: Project): number {
  const plan = drawing?.cut.kind === "plan" ? drawing : drawings.find((d) => d.id === drawing?.parent_id);
  const storey = project.facts.storeys.find((s) => plan && isPlanOf(plan, s.guid));
  return storey?.elevation ?? 0;
}

/** The highest level that lies not above a height; the lowest one for what lies below all of them. */
export function levelAt({ facts: { storeys } }: Project, z: number) {
  const upwards = [...storeys].sort((a, b) => a.elevation - b.elevation);
  return upwards.findLast((s) => s.elevation <= z + TOUCH) ?? upwards[0];
}
const TOUCH = 0.05; // metres; what lies so little below a floor is on it
