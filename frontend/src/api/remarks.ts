import { useQuery } from "@tanstack/react-query";
import {
  type Became,
  client,
  fetched,
  type IssuedPin,
  type Pin,
  type Remark,
  type RemarkState,
  type TopicsRead,
  unwrap,
} from "./client";
import { done, keys } from "./queries";

const ofProject = (project: number) => [...keys.project(project), "remarks"] as const;

export const useRemarks = (project: number) =>
  useQuery({
    queryKey: ofProject(project),
    queryFn: () =>
      unwrap<Remark[]>(client.GET("/api/projects/{id}/remarks", { params: { path: { id: project } } })),
  });

/** Where remarks are in what looks by this name; not asked for where there are none. */
function usePlaced<T>(project: number, of: string, id: number, look: string, ask: () => Promise<T[]>) {
  const { data: remarks = [] } = useRemarks(project);
  return useQuery({
    queryKey: [...ofProject(project), of, id, look],
    enabled: remarks.length > 0,
    placeholderData: (before: T[] | undefined, query) => (query?.queryKey[4] === id ? before : undefined),
    queryFn: ask,
  });
}

/** Where a drawing shows remarks. */
export const usePins = (project: number, { id, view }: { id: number; view: string }) =>
  usePlaced(project, "in a drawing", id, view, () =>
    unwrap<Pin[]>(client.GET("/api/drawings/{id}/remarks", { params: { path: { id } } })),
  );

/** Where a sheet shows remarks, on its paper and in its drawings. */
export const useSheetPins = (project: number, { id, view }: { id: number; view: string }) =>
  usePlaced(project, "on a sheet", id, view, () =>
    unwrap<Pin[]>(client.GET("/api/sheets/{id}/remarks", { params: { path: { id } } })),
  );

/** Where the remarks of an issued sheet are, with those carried to it. */
export const useIssuedPins = (project: number, id: number) =>
  usePlaced(project, "as issued", id, "", () =>
    unwrap<IssuedPin[]>(client.GET("/api/issued-sheets/{id}/remarks", { params: { path: { id } } })),
  );

/** What became of a remark, from issue to issue. */
export const useBecame = (project: number, id: number) =>
  useQuery({
    queryKey: [...ofProject(project), "became", id],
    queryFn: () => unwrap<Became[]>(client.GET("/api/remarks/{id}/became", { params: { path: { id } } })),
  });

export type At = [number, number];
/** Where a remark is to be: mm on a sheet, as it is or as it was issued, or mm of the building in a drawing. */
export type Spot = { sheet: number | null; issued: number | null; drawing: number | null; at: At };
export type Said = { text: string; to: string; due: string };

export const addRemark = (
  project: number,
  spot: Spot,
  said: Said & { sketch: readonly At[][]; picture: string },
) =>
  done(
    ofProject(project),
    unwrap<Remark>(
      client.POST("/api/projects/{id}/remarks", {
        params: { path: { id: project } },
        body: { ...spot, ...said, sketch: [...said.sketch] },
      }),
    ),
  );

export const answerRemark = (project: number, id: number, text: string, state: RemarkState) =>
  done(
    ofProject(project),
    unwrap<Remark>(
      client.POST("/api/remarks/{id}/answers", { params: { path: { id } }, body: { text, state } }),
    ),
  );

export const editRemark = (
  project: number,
  { id, version }: Remark,
  change: Partial<Said> & { state?: RemarkState },
) =>
  done(
    ofProject(project),
    unwrap<Remark>(
      client.PATCH("/api/remarks/{id}", {
        params: { path: { id } },
        body: { version, text: null, to: null, due: null, state: null, ...change },
      }),
    ),
  );

export const deleteRemark = (project: number, id: number) =>
  done(ofProject(project), unwrap(client.DELETE("/api/remarks/{id}", { params: { path: { id } } })));

/** Read what others say from a file of topics. */
export function readRemarks(project: number, file: File) {
  const body = new FormData();
  body.append("file", file);
  const sent = fetched(`/api/projects/${project}/remarks/topics`, { method: "POST", body });
  return done(
    ofProject(project),
    sent.then((answer) => answer.json() as Promise<TopicsRead>),
  );
}
