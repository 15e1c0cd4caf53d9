import type { TableColumn, TableContent, TableKind, TableSpec } from "../api/tables";

const KINDS: Record<TableSpec["kind"], string> = {
  doors: "Doors",
  windows: "Windows",
  openings: "Doors and windows",
  rooms: "Rooms",
  finishes: "Finishes by room",
  walls: "Walls by build-up",
  layers: "Layers of build-ups",
  materials: "Materials",
  elements: "Elements",
  sheets: "Sheets",
  drawings: "Drawings",
  corrections: "Corrections to the model",
};

/** What a table lists. */
export function kindWords(of: Pick<TableKind, "kind"> & { of?: string }): string {
  return of.kind === "elements" && of.of ? `Elements: ${of.of}` : KINDS[of.kind];
}

/** A key that no column has, after what a column is headed by. */
export function freeKey(head: string, columns: readonly TableColumn[]): string {
  const plain =
    head
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "_")
      .replace(/^[^a-z]+|_+$/g, "")
      .slice(0, 32) || "column";
  const taken = new Set(columns.map((c) => c.key));
  let key = plain;
  for (let n = 2; taken.has(key); n++) key = `${plain}_${n}`;
  return key;
}

/** What a column may show, as the values and words of a choice. */
export function shownChoices(content: TableContent): (readonly [string, string])[] {
  const pictured = ["doors", "windows", "openings", "walls", "elements"].includes(content.spec.kind);
  return [
    ...content.fields.map((f) => [`field ${f.key}`, f.head] as const),
    ...content.properties.map((p) => [`property ${p}`, p] as const),
    ["own ", "what is typed here"],
    ["formula ", "a formula of other columns"],
    ...(pictured
      ? ([
          ["picture front", "picture from the front"],
          ["picture plan", "picture as a plan"],
        ] as const)
      : []),
  ];
}

export const shownOf = (c: TableColumn) =>
  c.shows === "formula" || c.shows === "own" ? `${c.shows} ` : `${c.shows} ${c.name ?? ""}`;
