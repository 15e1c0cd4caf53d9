import { useState } from "react";
import { Link } from "react-router";
import type { Sheet } from "../../api/client";
import { useSheetActs } from "../../api/sheet-acts";
import { useTables } from "../../api/tables";
import { NumberField } from "../../fields/NumberField";
import { Part } from "../../fields/Part";
import { freePlace, type TablePlace, USUAL } from "../paper/table-places";

const SIDES = [
  ["x", "From left"],
  ["y", "From base"],
  ["wide", "Width"],
  ["high", "Height"],
] as const;

/** The tables on a sheet: where they stand and how large; one that stands twice goes on in its second place. */
export function TablesPart({ sheet }: { sheet: Sheet }) {
  const { data: tables = [] } = useTables(sheet.project_id);
  const { edit } = useSheetActs(sheet.project_id);
  const [chosen, setChosen] = useState("");
  const places = sheet.fields.tables ?? [];
  const save = (next: TablePlace[]) =>
    edit.mutate({ sheet, change: { fields: { ...sheet.fields, tables: next } } });
  const key = chosen || tables[0]?.key;
  if (tables.length === 0 && places.length === 0) return null;
  return (
    <Part title="Tables on this sheet">
      {places.map((place, k) => {
        const table = tables.find((t) => t.key === place.table);
        return (
          <div
            key={`${place.table} ${place.x} ${place.y}`}
            className="flex flex-col gap-1 border-b border-base-300 pb-1.5"
          >
            <span className="flex items-center gap-1">
              <Link
                className="link link-hover min-w-0 flex-1 truncate"
                to={`/projects/${sheet.project_id}/tables/${table?.id ?? ""}`}
              >
                {table?.spec.name ?? "A table that is gone"}
              </Link>
              <button
                type="button"
                className="btn btn-xs"
                onClick={() => save(places.filter((p) => p !== place))}
              >
                Take off
              </button>
            </span>
            {SIDES.map(([side, label]) => (
              <NumberField
                key={side}
                label={label}
                unit="mm"
                value={place[side] ?? USUAL[side as keyof typeof USUAL]}
                least={side === "x" || side === "y" ? -10_000 : 20}
                most={2000}
                onChange={(value) => save(places.map((p, n) => (n === k ? { ...p, [side]: value } : p)))}
              />
            ))}
          </div>
        );
      })}
      {tables.length > 0 && (
        <div className="flex gap-1">
          <select
            className="select select-xs min-w-0 flex-1"
            aria-label="Table to place"
            value={key}
            onChange={(event) => setChosen(event.target.value)}
          >
            {tables.map((t) => (
              <option key={t.key} value={t.key}>
                {t.spec.name}
              </option>
            ))}
          </select>
          <button
            type="button"
            className="btn btn-xs"
            onClick={() => key && save([...places, { table: key, ...freePlace(sheet) }])}
          >
            Place the table
          </button>
        </div>
      )}
    </Part>
  );
}
