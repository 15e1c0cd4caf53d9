import type { ColourOf, ShownOf } from "./Building";
import type { Colours } from "./bench-state";

/** What shows: of one storey or all, without hidden kinds and elements, some of it seen through. */
export const shownOf =
  (
    storey: string,
    kinds: ReadonlySet<string>,
    elements: ReadonlySet<string>,
    seeThrough: ReadonlySet<string>,
  ): ShownOf =>
  (element, on) => {
    if (kinds.has(element.kind) || elements.has(element.guid)) return "no";
    if (storey !== "" && on !== storey) return "no";
    return seeThrough.has(element.kind) ? "through" : "yes";
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

export const colourOf =
  (colours: Colours): ColourOf =>
  (element, part) =>
    (colours === "kind" ? KINDS[element.kind] : part.classes[element.material]) ?? OTHER;
