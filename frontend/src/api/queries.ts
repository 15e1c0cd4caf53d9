import { QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import {
  type Callout,
  type Cut,
  client,
  type Drawing,
  type DrawingMarkers,
  type DrawingNew,
  isOutage,
  type ModelImport,
  type Output,
  type Project,
  Refusal,
  type Settings,
  type Sheet,
  type ShownSet,
  type Standard,
  type Style,
  unwrap,
} from "./client";
import { newest, newestSheets } from "./newest";

const RETRIES = 60;

/** Try again through an outage, and say so meanwhile. */
function again(count: number, error: Error) {
  if (!isOutage(error) || count >= RETRIES) return false;
  toast.error(error.message, { id: "outage", duration: 4000 });
  return true;
}

// the server may be this machine: what the browser believes of the network decides nothing, the server's answer does
const ALWAYS = { networkMode: "always", retry: again, retryDelay: 1500 } as const;

export const queryClient = new QueryClient({
  defaultOptions: {
    queries: { staleTime: 30_000, ...ALWAYS },
    mutations: ALWAYS,
  },
});

export const keys = {
  projects: ["projects"] as const,
  project: (id: number) => ["project", id] as const,
  imports: ["imports"] as const,
  notices: ["notices"] as const,
  drawings: (project: number) => ["project", project, "drawings"] as const,
  standards: (project: number) => ["project", project, "standards"] as const,
  shownSets: (project: number) => ["project", project, "shown sets"] as const,
  drawingRules: (project: number) => ["project", project, "drawing rules"] as const,
  viewpoints: (project: number) => ["project", project, "viewpoints"] as const,
  sharedExtents: (project: number) => ["project", project, "shared extents"] as const,
  ground: (project: number) => ["project", project, "ground"] as const,
  sheets: (project: number) => ["project", project, "sheets"] as const,
  markers: (project: number) => ["project", project, "markers"] as const,
  annotations: (project: number) => ["project", project, "annotations"] as const,
  touchUps: (project: number) => ["project", project, "touch-ups"] as const,
  unsettled: (project: number) => ["project", project, "unsettled"] as const,
  revisions: (project: number) => ["project", project, "revisions"] as const,
  parts: (project: number) => ["project", project, "parts"] as const,
  materials: (project: number) => ["project", project, "materials"] as const,
  history: (project: number) => ["project", project, "history"] as const,
  designs: (project: number) => ["project", project, "sheet designs"] as const,
  tables: (project: number) => ["project", project, "tables"] as const,
  checks: (project: number) => ["project", project, "checks"] as const,
  issues: (project: number) => ["project", project, "issues"] as const,
  sheetPicture: (sheet: number, picture: string) => ["sheet picture", sheet, picture] as const,
};

/** The kinds of file that drawings become; of sheets alone, or all. */
export function useOutputs(of: "sheets" | "drawings"): Output[] {
  const { data } = useSettings();
  return (data?.outputs ?? []).filter((one) => of === "drawings" || one.sheets);
}

export const useSettings = () =>
  useQuery({
    queryKey: ["settings"],
    queryFn: () => unwrap<Settings>(client.GET("/api/settings")),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const useProjects = () =>
  useQuery({ queryKey: keys.projects, queryFn: () => unwrap<Project[]>(client.GET("/api/projects")) });

export const useProject = (id: number) =>
  useQuery({
    queryKey: keys.project(id),
    queryFn: () => unwrap<Project>(client.GET("/api/projects/{id}", { params: { path: { id } } })),
  });

export const useImports = () =>
  useQuery({ queryKey: keys.imports, queryFn: () => unwrap<ModelImport[]>(client.GET("/api/imports")) });

/** Do something, and ask anew for what it changes; null where it was refused, which is said. */
export async function done<T>(key: readonly unknown[], act: Promise<T>): Promise<T | null> {
  try {
    return await act;
  } catch (error) {
    report(error);
    return null;
  } finally {
    await queryClient.invalidateQueries({ queryKey: key });
  }
}

/** Ask again for what changed. A first answer that is still under way may have been read before the change, and would
 * count as new: it is asked for once more when it is there. */
export function renew(which: { queryKey?: readonly unknown[]; exact?: boolean }) {
  for (const query of queryClient.getQueryCache().findAll({ ...which, fetchStatus: "fetching" }))
    if (query.state.data === undefined)
      query.promise?.then(
        () => queryClient.invalidateQueries({ queryKey: query.queryKey, exact: true }),
        () => undefined, // nothing came: it is asked for again anyway
      );
  return queryClient.invalidateQueries(which);
}

export const useDrawings = (project: number) =>
  useQuery({
    queryKey: keys.drawings(project),
    structuralSharing: newest,
    queryFn: () =>
      unwrap<Drawing[]>(client.GET("/api/projects/{id}/drawings", { params: { path: { id: project } } })),
  });

/** The markers that drawings show, asked for together. */
export const useMarkers = (project: number, drawings: number[]) =>
  useQuery({
    queryKey: [...keys.markers(project), ...drawings],
    enabled: drawings.length > 0,
    placeholderData: (before: DrawingMarkers[] | undefined) => before,
    queryFn: async () => {
      const found = await unwrap<DrawingMarkers[]>(
        client.POST("/api/projects/{id}/markers", { params: { path: { id: project } }, body: { drawings } }),
      );
      renameViews(project, found);
      return found;
    },
  });

/** Labels keep clear of markers: a drawing on which they moved looks different, though nobody changed it. */
function renameViews(project: number, found: DrawingMarkers[]) {
  const of = (d: Drawing) => found.find((f) => f.id === d.id && f.version === d.version)?.view ?? d.view;
  queryClient.setQueryData<Drawing[]>(keys.drawings(project), (list) =>
    list?.some((d) => of(d) !== d.view) ? list.map((d) => ({ ...d, view: of(d) })) : list,
  );
}

export const useStandards = (project: number) =>
  useQuery({
    queryKey: keys.standards(project),
    structuralSharing: newest,
    queryFn: () =>
      unwrap<Standard[]>(client.GET("/api/projects/{id}/standards", { params: { path: { id: project } } })),
  });

export const useShownSets = (project: number) =>
  useQuery({
    queryKey: keys.shownSets(project),
    queryFn: () =>
      unwrap<ShownSet[]>(client.GET("/api/projects/{id}/shown-sets", { params: { path: { id: project } } })),
  });

export const useSheets = (project: number) =>
  useQuery({
    queryKey: keys.sheets(project),
    structuralSharing: newestSheets,
    queryFn: () =>
      unwrap<Sheet[]>(client.GET("/api/projects/{id}/sheets", { params: { path: { id: project } } })),
  });

/** Say what went wrong where the user looks; outages are said once. */
export function report(error: unknown) {
  if (isOutage(error)) toast.error((error as Refusal).message, { id: "outage" });
  else if (error instanceof Refusal)
    toast.error(error.message, {
      // what went wrong at the server is found in its log by this
      description:
        error.status >= 500 && error.problem.request ? `Request ${error.problem.request}` : undefined,
    });
  else toast.error("Something went wrong in this window; reload it. What was saved is safe.");
}

/** A drawing made; it is named by what it is. */
export const addDrawing = (project: number, made: Omit<DrawingNew, "name" | "rule"> & { rule?: string }) =>
  unwrap<Drawing>(
    client.POST("/api/projects/{id}/drawings", {
      params: { path: { id: project } },
      body: { name: "", rule: "", ...made },
    }),
  );

export type DrawingChange = { cut?: Cut; callout?: Callout; style?: Style; name?: string; letter?: string };
const saving = new Map<number, Promise<unknown>>();

/** Settles when this window's own change of a drawing, if one is on its way, is answered. */
export const whenSaved = (id: number): Promise<unknown> =>
  saving.get(id)?.catch(() => undefined) ?? Promise.resolve();

/** Change a drawing from a version that is known: what the change does not name stays as it is. */
export const patchDrawing = ({ id, version }: { id: number; version: number }, change: DrawingChange) =>
  unwrap<Drawing>(
    client.PATCH("/api/drawings/{id}", {
      params: { path: { id } },
      body: {
        version,
        name: change.name ?? null,
        letter: change.letter ?? null,
        cut: change.cut ?? null,
        callout: change.callout ?? null,
        style: change.style ?? null,
      },
    }),
  );

/** Save changes of drawings, one after another for each drawing, always on its newest version. */
export function useSaveDrawing(project: number) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: async ({ id, change }: { id: number; change: DrawingChange }) => {
      const before = saving.get(id) ?? Promise.resolve();
      const mine = before
        .catch(() => undefined)
        .then(() => {
          const known = cache.getQueryData<Drawing[]>(keys.drawings(project))?.find((d) => d.id === id);
          return patchDrawing({ id, version: known?.version ?? 0 }, change);
        })
        .then((saved) => putDrawing(cache, project, saved));
      saving.set(id, mine);
      return mine;
    },
    onError: (error) => {
      if (error instanceof Refusal && error.status === 409 && error.problem.current)
        putDrawing(cache, project, error.problem.current as unknown as Drawing);
      report(error);
    },
  });
}

/** A drawing as it is now, unless a newer state of it is known. */
export function putDrawing(cache: QueryClient, project: number, drawing: Drawing): Drawing {
  cache.setQueryData<Drawing[]>(keys.drawings(project), (list) => {
    if (!list) return list;
    return list.some((d) => d.id === drawing.id)
      ? list.map((d) => (d.id === drawing.id && d.version <= drawing.version ? drawing : d))
      : [...list, drawing];
  });
  return drawing;
}

function putSheet(cache: QueryClient, project: number, sheet: Sheet) {
  cache.setQueryData<Sheet[]>(keys.sheets(project), (list) =>
    list?.some((s) => s.id === sheet.id)
      ? list.map((s) => (s.id === sheet.id ? sheet : s))
      : [...(list ?? []), sheet],
  );
}

const acting = new Map<number, Promise<unknown>>(); // the last act on sheets of each project

/** An act on sheets, after those before it: it is done to what these left. Its answer goes to the cache; what else
 * changed is told by the server. */
export function useSheetAct<Input>(project: number, act: (input: Input) => Promise<Sheet | undefined>) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (input: Input) => {
      const before = acting.get(project) ?? Promise.resolve();
      const mine = before
        .catch(() => undefined)
        .then(() => act(input))
        .then((sheet) => {
          if (sheet) putSheet(cache, project, sheet);
          return sheet;
        });
      acting.set(project, mine);
      return mine;
    },
    onError: (error) => {
      report(error);
      cache.invalidateQueries({ queryKey: keys.sheets(project) });
    },
  });
}
