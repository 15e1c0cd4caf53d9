import type { Tint } from "../../api/client";
import type { Colours } from "../model-state";
import type { ColourOf, ShownOf } from "./Building";

/** What is left out and seen through, by kinds and elements (GlobalId). */
export type Left = {
  kinds: ReadonlySet<string>;
  elements: ReadonlySet<string>;
  throughKinds: ReadonlySet<string>;
  throughElements: ReadonlySet<string>;
};

/** What shows: of one storey or all; what is left out is gone, or a ghost. */
export const shownOf =
  (storey: string, left: Left, ghost: boolean): ShownOf =>
  (element, on) => {
    if (storey !== "" && on !== storey) return "no";
    if (left.kinds.has(element.kind) || left.elements.has(element.guid)) return ghost ? "through" : "no";
    return left.throughKinds.has(element.kind) || left.throughElements.has(element.guid) ? "through" : "yes";
  };

/** Quiet colours of kinds: paper and stone for what stands, water and moss for what lies about. */
const KINDS: Record<string, string> = {
  wall: "#d9d3c3",
  slab: "#c3c2b8",
  roof: "#b9a99a",
  window: "#a9c3c6",
  door: "#c4a27e",
  stair: "#cdbf9f",
  column: "#b4b7ae",
  beam: "#b6a98c",
  member: "#b6a98c",
  footing: "#a9a79d",
  ground: "#b3b596",
  furniture: "#cfc6d0",
  planting: "#93a986",
  services: "#9fb0bd",
  rail: "#8f978f",
};
const OTHER = "#c9c9c0";

/** Colours by kind, or by the tints of a standard for what elements of a kind show of a material. */
export function colourOf(colours: Colours, tints: Tint[]): ColourOf {
  if (colours === "kind") return (element) => KINDS[element.kind] ?? OTHER;
  const known = new Map(tints.map((t) => [`${t.kind} ${t.material}`, t.colour]));
  return (element, material) => known.get(`${element.kind} ${material}`) ?? OTHER;
}
