import { useQuery } from "@tanstack/react-query";
import { client, fetched, type Pin, type Remark, type RemarkState, type TopicsRead, unwrap } from "./client";
import { done, keys } from "./queries";

const ofProject = (project: number) => [...keys.project(project), "remarks"] as const;

export const useRemarks = (project: number) =>
  useQuery({
    queryKey: ofProject(project),
    queryFn: () =>
      unwrap<Remark[]>(client.GET("/api/projects/{id}/remarks", { params: { path: { id: project } } })),
  });

/** Where a drawing, in the state of this name, shows remarks; not asked for where no drawing has any. */
export function usePins(project: number, drawing: { id: number; view: string } | undefined) {
  const { data: remarks = [] } = useRemarks(project);
  const any = remarks.some((one) => one.drawing !== null);
  return useQuery({
    queryKey: [...ofProject(project), "pins", drawing?.id, drawing?.view],
    enabled: drawing !== undefined && any,
    placeholderData: (before: Pin[] | undefined, query) =>
      query?.queryKey[4] === drawing?.id ? before : undefined,
    queryFn: () =>
      unwrap<Pin[]>(client.GET("/api/drawings/{id}/remarks", { params: { path: { id: drawing?.id ?? 0 } } })),
  });
}

/** Where a remark is to be: mm on a sheet, or mm of the building in a drawing. */
export type Spot = { sheet: number | null; drawing: number | null; at: [number, number] };
export type Said = { text: string; to: string; due: string };

export const addRemark = (project: number, spot: Spot, said: Said) =>
  done(
    ofProject(project),
    unwrap<Remark>(
      client.POST("/api/projects/{id}/remarks", {
        params: { path: { id: project } },
        body: { ...spot, ...said },
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
