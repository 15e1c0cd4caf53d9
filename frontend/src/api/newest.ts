import { replaceEqualDeep } from "@tanstack/react-query";
import type { Sheet } from "./client";

export type Row = { id: number | null; version: number };

/** A list as it was read, but no row older than it is known: an answer may have been on its way during a change. */
export const newest = (known: unknown, read: unknown): unknown =>
  replaceEqualDeep(known, newer((known ?? []) as Row[], read as Row[]));

function newer<T extends Row>(known: readonly T[], read: readonly T[]): T[] {
  const rows = new Map(known.map((row) => [row.id, row]));
  return read.map((row) => {
    const mine = rows.get(row.id);
    return mine && mine.version > row.version ? mine : row;
  });
}

/** The same of sheets, whose placements have versions of their own: a sheet is not changed by a move on it. */
export function newestSheets(known: unknown, read: unknown): unknown {
  const before = (known ?? []) as Sheet[];
  const on = new Map(before.map((sheet) => [sheet.id, sheet.placements]));
  const sheets = newer(before, read as Sheet[]).map((sheet) => ({
    ...sheet,
    placements: newer(on.get(sheet.id) ?? [], sheet.placements),
  }));
  return replaceEqualDeep(known, sheets);
}
