import type { Element, MaterialHere, Project } from "../api/client";

export type Where = "everywhere" | "build-up" | "element";
/** A class and a hatch, empty: as usual. */
export type SaidOf = { is_a: string; hatch: string };
export type Place = { where: Where; says: string; said: MaterialHere[] };

export const AS_USUAL: SaidOf = { is_a: "", hatch: "" };
const NOTHING: MaterialHere = { material: "", element: "", build_up: "", is_a: "", hatch: "" };

/** A material wherever it is. */
export const everywhere = (material: string): MaterialHere => ({ ...NOTHING, material });

type Made = Pick<Element, "guid" | "material" | "build_up" | "layer">;

/** Where something may be said of the material of elements; where the file names none, only of the elements. */
export function placesOf(elements: readonly Made[]): Place[] {
  const each = (said: (one: Made) => MaterialHere) =>
    elements.map(said).filter((one, k, all) => all.findIndex((other) => sameWhere(one, other)) === k);
  const found: Place[] = [];
  if (elements.every((one) => one.material))
    found.push({ where: "everywhere", says: "everywhere", said: each((one) => everywhere(one.material)) });
  if (elements.every((one) => one.material && one.build_up && one.layer)) {
    const said = each(({ material, build_up }) => ({ ...NOTHING, material, build_up }));
    const names = [...new Set(said.map((one) => one.build_up))];
    const says = names.length > 1 ? `in all of ${names.length} build-ups` : `in all of “${names[0]}”`;
    found.push({ where: "build-up", says, said });
  }
  const says = elements.length > 1 ? `in these ${elements.length} elements alone` : "in this element alone";
  found.push({
    where: "element",
    says,
    said: each(({ material, guid }) => ({ ...NOTHING, material, element: guid })),
  });
  return found;
}

/** What the materials of elements are called together. */
export function calledBy(elements: readonly Made[]): string {
  const names = [...new Set(elements.map((one) => one.material))].filter(Boolean);
  if (names.length === 0) return elements.length > 1 ? "what these are made of" : "what this is made of";
  return names.length > 1 ? `their ${names.length} materials` : `“${names[0]}”`;
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

/** What a project says alike of all places. */
export function saidOfAll(
  project: Pick<Project, "materials" | "materials_here">,
  places: readonly MaterialHere[],
): SaidOf | null {
  const every = places.map((place) => saidOf(project, place) ?? AS_USUAL);
  const alike = (key: keyof SaidOf) =>
    new Set(every.map((one) => one[key])).size === 1 ? (every[0]?.[key] ?? "") : "";
  const found = { is_a: alike("is_a"), hatch: alike("hatch") };
  return found.is_a || found.hatch ? found : null;
}

/** What is said, in words. */
export const words = (said: { is_a?: string; hatch?: string } | null): string =>
  [said?.is_a, said?.hatch && `hatched as ${said.hatch}`].filter(Boolean).join(", ") || "not all alike";

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
