import { useQuery } from "@tanstack/react-query";
import { client, unwrap } from "./client";
import { keys, queryClient, report } from "./queries";
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
    queryKey: [...keys.tables(project), "kinds"],
    queryFn: () =>
      unwrap<TableKind[]>(
        client.GET("/api/projects/{id}/table-kinds", { params: { path: { id: project } } }),
      ),
  });

/** What a table reads. */
export const useTableContent = (table: Table | undefined) =>
  useQuery({
    queryKey: [...keys.tables(table?.project_id ?? 0), "content", table?.id],
    enabled: table !== undefined,
    staleTime: 0,
    queryFn: () =>
      unwrap<TableContent>(
        client.GET("/api/tables/{id}/content", { params: { path: { id: table?.id ?? 0 } } }),
      ),
  });

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
function done<T>(project: number, act: () => Promise<T>): Promise<T | undefined> {
  const mine = last.then(async () => {
    try {
      return await act();
    } catch (error) {
      report(error);
      return undefined;
    } finally {
      await queryClient.invalidateQueries({ queryKey: keys.tables(project) });
    }
  });
  last = mine;
  return mine;
}

export const addTable = (project: number, name: string, kind: TableKind) =>
  done(project, () =>
    unwrap<Table>(
      client.POST("/api/projects/{id}/tables", {
        params: { path: { id: project } },
        body: { name, kind: kind.kind, of: kind.of },
      }),
    ),
  );

/** Change a table as it is now: what was done to it a moment ago is not lost. */
export const editTable = (table: Table, change: (spec: TableSpec) => Partial<TableSpec>) =>
  done(table.project_id, () => {
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
  done(table.project_id, () =>
    unwrap(client.DELETE("/api/tables/{id}", { params: { path: { id: table.id } } })).then(() => true),
  );

export const typeCells = (table: Table, cells: TypedCell[]) =>
  done(table.project_id, () =>
    unwrap<Table>(
      client.POST("/api/tables/{id}/cells", { params: { path: { id: table.id } }, body: { cells } }),
    ),
  );

/** What an XLSX file would change; nothing is saved. */
export const compareFile = (table: Table, file: File) =>
  done(table.project_id, async () => {
    const form = new FormData();
    form.append("file", file);
    const path = { params: { path: { id: table.id } } };
    return unwrap<TakenBack>(client.POST("/api/tables/{id}/compare", { ...path, body: form as never }));
  });
