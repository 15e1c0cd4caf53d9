import { useQuery } from "@tanstack/react-query";
import {
  type Cut,
  client,
  type GroundHandle,
  type GroundRole,
  type GroundRows,
  type GroundState,
  type Grounds,
  type GroundText,
  unwrap,
} from "./client";
import { keys, queryClient, report } from "./queries";

const path = (project: number) => ({ params: { path: { id: project } } });

/** The ground of a project, with what it takes to make the proposed one. */
export const useGround = (project: number) =>
  useQuery({
    queryKey: keys.ground(project),
    queryFn: () => unwrap<GroundState>(client.GET("/api/projects/{id}/ground", path(project))),
  });

/** The points of the ground that a drawing can move. */
export const useGroundHandles = (project: number, cut: Cut, version: number | undefined) =>
  useQuery({
    queryKey: [...keys.ground(project), "handles", version, JSON.stringify(cut)],
    enabled: version !== undefined,
    queryFn: () =>
      unwrap<GroundHandle[]>(
        client.POST("/api/projects/{id}/ground/handles", { ...path(project), body: { cut } }),
      ),
  });

/** What an act answered is what stands now; where it was refused, that is told, and read again. */
async function kept(project: number, act: Promise<GroundState>) {
  try {
    queryClient.setQueryData(keys.ground(project), await act);
  } catch (error) {
    report(error);
    queryClient.invalidateQueries({ queryKey: keys.ground(project) });
  }
}

export const sayGround = (project: number, version: number, grounds: Grounds) =>
  kept(
    project,
    unwrap<GroundState>(
      client.PUT("/api/projects/{id}/ground", { ...path(project), body: { version, grounds } }),
    ),
  );

export const readGroundText = (project: number, text: GroundText) =>
  unwrap<GroundRows>(client.POST("/api/projects/{id}/ground/text", { ...path(project), body: text }));

type Drawn = { version: number; cut: Cut; role: GroundRole; points: [number, number][] };

export const drawGround = (project: number, drawn: Drawn) =>
  kept(
    project,
    unwrap<GroundState>(client.POST("/api/projects/{id}/ground/profile", { ...path(project), body: drawn })),
  );

type Moved = { version: number; cut: Cut; role: GroundRole; index: number; u: number; v: number };

export const moveGroundHandle = (project: number, moved: Moved) =>
  kept(
    project,
    unwrap<GroundState>(
      client.POST("/api/projects/{id}/ground/handles/move", { ...path(project), body: moved }),
    ),
  );

type Raised = { version: number; role: GroundRole; index: number; height: number };

export const raiseGroundPoint = (project: number, raised: Raised) =>
  kept(
    project,
    unwrap<GroundState>(
      client.POST("/api/projects/{id}/ground/points/move", { ...path(project), body: raised }),
    ),
  );
