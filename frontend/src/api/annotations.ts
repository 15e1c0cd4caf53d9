import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import {
  type Annotation,
  type AnnotationsAct,
  client,
  type Drawing,
  type FoundText,
  type ModelWords,
  Refusal,
  type SetDone,
  type SetRule,
  type Settling,
  type Snaps,
  type SpotIn,
  type TouchUp,
  type TouchUpNew,
  type Unsettled,
  unwrap,
} from "./client";
import { keys, queryClient, report } from "./queries";

export type Draft = { kind: Annotation["document"]["kind"] } & Record<string, unknown>;

const listKey = (project: number, drawing: number) => [...keys.annotations(project), drawing];
const byId = (id: number) => ({ params: { path: { id } } });

const seen = new Map<number, string>(); // the view for which the annotations of a drawing were read

/** The annotations of a drawing as they are drawn; where it has any, they are read again when it looks different. */
export function useAnnotations(project: number, drawing: Drawing | undefined) {
  const id = drawing?.id ?? 0;
  const view = drawing?.view;
  useEffect(() => {
    if (view === undefined || seen.get(id) === view) return;
    const key = listKey(project, id);
    const known = seen.has(id) && queryClient.getQueryData<Annotation[]>(key);
    seen.set(id, view);
    if (known && known.length > 0) queryClient.invalidateQueries({ queryKey: key });
  }, [project, id, view]);
  return useQuery({
    queryKey: listKey(project, id),
    // a drawing that has none is not asked for them; what is added to it here comes with the answer
    enabled: drawing?.annotated === true,
    queryFn: () => unwrap<Annotation[]>(client.GET("/api/drawings/{id}/annotations", byId(id))),
  });
}

/** What annotations of a drawing can be tied to. */
export const useSnaps = (drawing: Drawing | undefined, wanted: boolean) =>
  useQuery({
    queryKey: ["snaps", drawing?.id, drawing?.view],
    enabled: drawing !== undefined && wanted,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () => unwrap<Snaps>(client.GET("/api/drawings/{id}/snaps", byId(drawing?.id ?? 0))),
  });

export const useTouchUps = (project: number, drawing: number, wanted: boolean) =>
  useQuery({
    queryKey: [...keys.touchUps(project), drawing],
    enabled: wanted,
    queryFn: () => unwrap<TouchUp[]>(client.GET("/api/drawings/{id}/touch-ups", byId(drawing))),
  });

export const useUnsettled = (project: number, wanted: boolean) =>
  useQuery({
    queryKey: keys.unsettled(project),
    enabled: wanted,
    queryFn: () => unwrap<Unsettled[]>(client.GET("/api/projects/{id}/anchors", byId(project))),
  });

/** Annotations as they are now; older states of them that come later are ignored. */
function put(project: number, found: Annotation[]) {
  for (const one of found)
    queryClient.setQueryData<Annotation[]>(listKey(project, one.drawing_id), (list = []) => {
      return list.some((a) => a.id === one.id)
        ? list.map((a) => (a.id === one.id && a.version <= one.version ? one : a))
        : [...list, one];
    });
}

function drop(project: number, drawing: number, ids: number[]) {
  queryClient.setQueriesData<Annotation[]>({ queryKey: listKey(project, drawing) }, (list) =>
    list?.filter((a) => !ids.includes(a.id)),
  );
}

export async function addAnnotation(project: number, drawing: number, spots: SpotIn[], document: Draft) {
  try {
    const made = await unwrap<Annotation>(
      client.POST("/api/drawings/{id}/annotations", { ...byId(drawing), body: { spots, document } }),
    );
    put(project, [made]);
    return made;
  } catch (error) {
    report(error);
    return undefined;
  }
}

type Change = { change?: Record<string, unknown>; spots?: Record<string, SpotIn> };

/** Change one; where somebody else was sooner, their state is shown. */
export async function editAnnotation(project: number, one: Annotation, { change = {}, spots = {} }: Change) {
  try {
    const body = { version: one.version, change, spots, replace: false };
    put(project, [
      await unwrap<Annotation>(client.PATCH("/api/annotations/{id}", { ...byId(one.id), body })),
    ]);
  } catch (error) {
    if (error instanceof Refusal && error.status === 409 && error.problem.current)
      put(project, [error.problem.current as unknown as Annotation]);
    report(error);
  }
}

type Several = Partial<Omit<AnnotationsAct, "ids" | "act">>;

/** Do something with several annotations at once. */
export async function actOnAnnotations(
  project: number,
  drawing: number,
  ids: number[],
  act: AnnotationsAct["act"],
  more: Several = {},
) {
  try {
    const body = {
      by: [0, 0] as [number, number],
      to: "left" as const,
      change: {},
      drawing: null,
      ...more,
      ids,
      act,
    };
    const found = await unwrap<Annotation[]>(
      client.POST("/api/drawings/{id}/annotations/acts", { ...byId(drawing), body }),
    );
    if (act === "delete") drop(project, drawing, ids);
    else put(project, found);
    return found;
  } catch (error) {
    report(error);
    return undefined;
  }
}

/** Dimension everything that a line crosses; ends in mm of the drawing. */
export async function addCrossed(
  project: number,
  drawing: number,
  line: [[number, number], [number, number]],
) {
  try {
    const found = await unwrap<Annotation>(
      client.POST("/api/drawings/{id}/crossed-lines", { ...byId(drawing), body: { line } }),
    );
    put(project, [found]);
  } catch (error) {
    report(error);
  }
}

/** Place a set, or bring it up to date; `says`: what its labels say from now on, empty as they do. */
export const placeSet = (drawing: number, rule: SetRule, subject = "", says: string[] = []) =>
  unwrap<SetDone>(
    client.POST("/api/drawings/{id}/annotation-sets", { ...byId(drawing), body: { rule, subject, says } }),
  );

/** The words by which things of a model are told apart. */
export const useModelWords = (project: number, enabled = true) =>
  useQuery({
    queryKey: ["words", project],
    enabled,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      unwrap<ModelWords>(client.GET("/api/projects/{id}/words", { params: { path: { id: project } } })),
  });

export async function touchUp(drawing: number, wanted: Partial<TouchUpNew> & { act: TouchUpNew["act"] }) {
  const body: TouchUpNew = {
    at: null,
    to: null,
    reach: 1,
    box: null,
    whole: true,
    faces: false,
    ring: [],
    style: {},
    ...wanted,
  };
  try {
    return await unwrap<TouchUp>(client.POST("/api/drawings/{id}/touch-ups", { ...byId(drawing), body }));
  } catch (error) {
    report(error);
    return undefined;
  }
}

export const takeBack = (drawing: number, ids: number[]) =>
  unwrap<undefined>(
    client.POST("/api/drawings/{id}/touch-ups/take-back", { ...byId(drawing), body: { ids } }),
  );

export const settleAnchors = (project: number, body: Settling) =>
  unwrap<Unsettled[]>(client.POST("/api/projects/{id}/anchors", { ...byId(project), body }));

export const findText = (project: number, words: string) =>
  unwrap<FoundText[]>(
    client.GET("/api/projects/{id}/annotations", { params: { path: { id: project }, query: { words } } }),
  );

export const copyDrawing = (
  drawing: number,
  body: { name: string; annotations: boolean; touch_ups: boolean; levels: boolean; one_letter: boolean },
) => unwrap<Drawing>(client.POST("/api/drawings/{id}/copy", { ...byId(drawing), body }));

/** Keep a picture for annotations. */
export async function storePicture(project: number, file: File) {
  const form = new FormData();
  form.append("file", file);
  const response = await fetch(`/api/projects/${project}/pictures`, { method: "POST", body: form });
  const answer = await response.json();
  if (!response.ok) throw new Refusal(response.status, answer);
  return answer as { name: string; width: number; height: number };
}
