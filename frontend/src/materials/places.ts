import type { Element, MaterialHere, Project } from "../api/client";

export type Where = "everywhere" | "build-up" | "element";
/** A class and a hatch, empty: as usual. */
export type SaidOf = { is_a: string; hatch: string };
export type Place = { where: Where; says: string; said: MaterialHere };

const NOTHING: MaterialHere = { material: "", element: "", build_up: "", is_a: "", hatch: "" };

/** A material wherever it is. */
export const everywhere = (material: string): MaterialHere => ({ ...NOTHING, material });

/** Where something may be said of the material of an element; one that the file names nothing of only of itself. */
export function placesOf(element: Pick<Element, "guid" | "material" | "build_up" | "layer">): Place[] {
  const { material, build_up } = element;
  const here: Place = {
    where: "element",
    says: "in this element alone",
    said: { ...NOTHING, material, element: element.guid },
  };
  if (!material) return [here];
  const all: Place = { where: "everywhere", says: "everywhere", said: everywhere(material) };
  if (!build_up || !element.layer) return [all, here];
  return [
    all,
    { where: "build-up", says: `in all of “${build_up}”`, said: { ...NOTHING, material, build_up } },
    here,
  ];
}

/** Whether two are said of the same material in the same place. */
export const sameWhere = (a: MaterialHere, b: MaterialHere): boolean =>
  (a.element ?? "") === (b.element ?? "") &&
  (a.build_up ?? "") === (b.build_up ?? "") &&
  (a.material ?? "") === (b.material ?? "");

/** What a project says of a material in a place; of its class everywhere it says it by its name. */
export function saidOf(
  project: Pick<Project, "materials" | "materials_here">,
  place: MaterialHere,
): SaidOf | null {
  const here = project.materials_here.find((one) => sameWhere(one, place));
  const named = place.element || place.build_up ? "" : (project.materials[place.material ?? ""] ?? "");
  const [is_a, hatch] = [here?.is_a || named, here?.hatch ?? ""];
  return is_a || hatch ? { is_a, hatch } : null;
}

/** What is said, in words. */
export const words = (said: { is_a?: string; hatch?: string } | null): string =>
  [said?.is_a, said?.hatch && `hatched as ${said.hatch}`].filter(Boolean).join(", ");

/** What a project says once something else is said of a material in a place; nothing: as the file says. */
export function withSaid(
  project: Pick<Project, "materials" | "materials_here">,
  place: MaterialHere,
  said: SaidOf | null,
): Pick<Project, "materials" | "materials_here"> {
  const materials = { ...project.materials };
  const one = { ...place, is_a: said?.is_a ?? "", hatch: said?.hatch ?? "" };
  if (!place.element && !place.build_up) {
    if (one.is_a) materials[place.material ?? ""] = one.is_a;
    else delete materials[place.material ?? ""];
    one.is_a = "";
  }
  const others = project.materials_here.filter((other) => !sameWhere(other, one));
  return { materials, materials_here: one.is_a || one.hatch ? [...others, one] : others };
}
