import { useQueries, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { client, unwrap } from "./client";
import { keys, queryClient, renew, report } from "./queries";
import type { components } from "./schema";

type Schemas = components["schemas"];
export type Table = Schemas["TableOut"];
export type TableSpec = Schemas["TableSpec"];
export type TableColumn = Schemas["TableColumn"];
export type TableContent = Schemas["TableContentOut"];
export type TableKind = Schemas["KindOut"];
export type TakenBack = Schemas["TakenBackOut"];
type InTable = Schemas["InTableOut"];
export type TypedCell = { column: string; target: string; text: string };

/** The tables of a project. */
export const useTables = (project: number) =>
  useQuery({
    queryKey: keys.tables(project),
    queryFn: () =>
      unwrap<Table[]>(client.GET("/api/projects/{id}/tables", { params: { path: { id: project } } })),
  });

/** The kinds of tables that there may be, with how many rows each would have. */
export const useTableKinds = (project: number) =>
  useQuery({
    queryKey: [...keys.project(project), "table kinds"], // of the model, whatever becomes of tables
    queryFn: () =>
      unwrap<TableKind[]>(
        client.GET("/api/projects/{id}/table-kinds", { params: { path: { id: project } } }),
      ),
  });

const contentKey = (project: number, table?: number) => [...keys.tables(project), "content", table];

/** What a table reads. */
export const useTableContent = (table: Table | undefined) =>
  useQuery({
    queryKey: contentKey(table?.project_id ?? 0, table?.id),
    enabled: table !== undefined,
    staleTime: 0,
    queryFn: () =>
      unwrap<TableContent>(
        client.GET("/api/tables/{id}/content", { params: { path: { id: table?.id ?? 0 } } }),
      ),
  });

export type TablePictures = ReadonlyMap<string, Schemas["PictureLinesOut"]>;
const PAGE = 40; // lines whose pictures are asked for together

/** The pictures of the lines from one to another, by "target column"; asked for as they come into the window. */
export function useTablePictures(
  table: Table,
  content: TableContent,
  from: number,
  to: number,
): TablePictures {
  const columns = content.spec.columns.flatMap((c) => (c.shows === "picture" ? `${c.key} ${c.name}` : []));
  const pages = columns.length
    ? Array.from(
        { length: Math.floor(to / PAGE) - Math.floor(from / PAGE) + 1 },
        (_, k) => (Math.floor(from / PAGE) + k) * PAGE,
      )
    : [];
  const found = useQueries({
    queries: pages
      .map((at) =>
        content.lines.slice(at, at + PAGE).flatMap((line) => (line.what === "row" ? line.target : [])),
      )
      .filter((target) => target.length > 0)
      .map((target) => ({
        queryKey: [...keys.project(table.project_id), "table pictures", table.id, columns, target],
        queryFn: () =>
          unwrap<Schemas["PictureLinesOut"][]>(
            client.GET("/api/tables/{id}/pictures", {
              params: { path: { id: table.id }, query: { target } },
            }),
          ),
      })),
    combine: inPages,
  });
  return useMemo(
    () => new Map(found.flatMap((page) => page.map((p) => [`${p.target} ${p.column}`, p]))),
    [found],
  );
}

/** The same as long as nothing comes: rows are then not drawn anew at every step of a scroll. */
const inPages = (found: { data?: Schemas["PictureLinesOut"][] }[]) => found.map(({ data = [] }) => data);

/** The tables that have a row of something ("element:" and its GlobalId). */
export const useTablesWith = (project: number, target: string) =>
  useQuery({
    queryKey: [...keys.tables(project), "with", target],
    queryFn: () =>
      unwrap<InTable[]>(
        client.GET("/api/projects/{id}/tables-with", {
          params: { path: { id: project }, query: { target } },
        }),
      ),
  });

let last: Promise<unknown> = Promise.resolve();

/** Acts on tables follow each other: each knows what the one before it left. */
function inTurn<T>(project: number, act: () => Promise<T>): Promise<T | undefined> {
  const mine = last.then(async () => {
    try {
      return await act();
    } catch (error) {
      report(error);
      renew({ queryKey: keys.tables(project) });
      return undefined;
    }
  });
  last = mine;
  return mine;
}

/** A table as an act left it: the list has it at once, its rows are read anew. */
const made = (project: number, act: () => Promise<Table>) =>
  inTurn(project, async () => {
    const table = await act();
    queryClient.setQueryData<Table[]>(keys.tables(project), (list = []) =>
      list.some((t) => t.id === table.id)
        ? list.map((t) => (t.id === table.id && t.version < table.version ? table : t))
        : [...list, table],
    );
    renew({ queryKey: contentKey(project, table.id) });
    return table;
  });

/** Tables changed, as the server tells: those that this window did not leave so itself are read anew. */
export function hearTables(project: number, rows: [table: string, id: number, version: number | null][]) {
  last.finally(() => {
    const known = queryClient.getQueryData<Table[]>(keys.tables(project));
    const version = (id: number) => known?.find((t) => t.id === id)?.version ?? null;
    const news = rows.filter(([, id, now]) =>
      now === null ? version(id) !== null : (version(id) ?? 0) < now,
    );
    if (news.length > 0) renew({ queryKey: keys.tables(project) });
  });
}

export const addTable = (project: number, name: string, kind: TableKind) =>
  made(project, () =>
    unwrap<Table>(
      client.POST("/api/projects/{id}/tables", {
        params: { path: { id: project } },
        body: { name, kind: kind.kind, of: kind.of },
      }),
    ),
  );

/** Change a table as it is now: what was done to it a moment ago is not lost. */
export const editTable = (table: Table, change: (spec: TableSpec) => Partial<TableSpec>) =>
  made(table.project_id, () => {
    const known = queryClient.getQueryData<Table[]>(keys.tables(table.project_id)) ?? [];
    const now = known.find((t) => t.id === table.id) ?? table;
    return unwrap<Table>(
      client.PATCH("/api/tables/{id}", {
        params: { path: { id: table.id } },
        body: { version: now.version, spec: { ...now.spec, ...change(now.spec) } },
      }),
    );
  });

export const deleteTable = (table: Table) =>
  inTurn(table.project_id, async () => {
    await unwrap(client.DELETE("/api/tables/{id}", { params: { path: { id: table.id } } }));
    queryClient.setQueryData<Table[]>(keys.tables(table.project_id), (list) =>
      list?.filter((t) => t.id !== table.id),
    );
    return true;
  });

export const typeCells = (table: Table, cells: TypedCell[]) =>
  made(table.project_id, () =>
    unwrap<Table>(
      client.POST("/api/tables/{id}/cells", { params: { path: { id: table.id } }, body: { cells } }),
    ),
  );

/** What an XLSX file would change; nothing is saved. */
export const compareFile = (table: Table, file: File) =>
  inTurn(table.project_id, async () => {
    const form = new FormData();
    form.append("file", file);
    const path = { params: { path: { id: table.id } } };
    return unwrap<TakenBack>(client.POST("/api/tables/{id}/compare", { ...path, body: form as never }));
  });
