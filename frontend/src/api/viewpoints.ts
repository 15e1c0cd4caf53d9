import { useQuery } from "@tanstack/react-query";
import { client, type Seen, unwrap, type Viewpoint } from "./client";
import { keys, queryClient, report } from "./queries";

/** The viewpoints of a project, in the order in which a presentation walks through them. */
export const useViewpoints = (project: number) =>
  useQuery({
    queryKey: keys.viewpoints(project),
    queryFn: () =>
      unwrap<Viewpoint[]>(client.GET("/api/projects/{id}/viewpoints", { params: { path: { id: project } } })),
  });

async function done<T>(project: number, act: Promise<T>): Promise<T | undefined> {
  try {
    return await act;
  } catch (error) {
    report(error);
  } finally {
    await queryClient.invalidateQueries({ queryKey: keys.viewpoints(project) });
  }
}

export const keepViewpoint = (project: number, name: string, seen: Seen) =>
  done(
    project,
    unwrap<Viewpoint>(
      client.POST("/api/projects/{id}/viewpoints", {
        params: { path: { id: project } },
        body: { name, seen },
      }),
    ),
  );

export const editViewpoint = (
  project: number,
  { id, version }: Viewpoint,
  change: { name?: string; seen?: Seen },
) =>
  done(
    project,
    unwrap<Viewpoint>(
      client.PATCH("/api/viewpoints/{id}", {
        params: { path: { id } },
        body: { name: null, seen: null, ...change, version },
      }),
    ),
  );

export const orderViewpoints = (project: number, ids: number[]) =>
  done(
    project,
    unwrap<Viewpoint[]>(
      client.POST("/api/projects/{id}/viewpoints/order", {
        params: { path: { id: project } },
        body: { ids },
      }),
    ),
  );

export const deleteViewpoint = (project: number, id: number) =>
  done(project, unwrap<undefined>(client.DELETE("/api/viewpoints/{id}", { params: { path: { id } } })));
