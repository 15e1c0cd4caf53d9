import { useQuery } from "@tanstack/react-query";
import { type Cut, client, type ExtentsBox, type ExtentsSide, type SharedExtents, unwrap } from "./client";
import { keys } from "./queries";

/** The boxes that drawings of a project may take their extents and depth from. */
export const useSharedExtents = (project: number) =>
  useQuery({
    queryKey: keys.sharedExtents(project),
    queryFn: () =>
      unwrap<SharedExtents[]>(
        client.GET("/api/projects/{id}/shared-extents", { params: { path: { id: project } } }),
      ),
  });

/** A box of what a drawing shows, which the drawing then follows. */
export const keepExtents = (project: number, name: string, drawing: number) =>
  unwrap<SharedExtents>(
    client.POST("/api/projects/{id}/shared-extents", {
      params: { path: { id: project } },
      body: { name, drawing_id: drawing, box: null },
    }),
  );

export const editBox = (shared: SharedExtents, change: { name?: string; box?: ExtentsBox }) =>
  unwrap<SharedExtents>(
    client.PATCH("/api/shared-extents/{id}", {
      params: { path: { id: shared.id } },
      body: { name: shared.name, box: shared.box, ...change, version: shared.version },
    }),
  );

export const deleteBox = (id: number) =>
  unwrap<undefined>(client.DELETE("/api/shared-extents/{id}", { params: { path: { id } } }));

export type Move = { side: ExtentsSide; to: number | null };

/** The sides of a drawing, and its depth, that are others than they were. */
export function movedSides(before: Cut, after: Cut): Move[] {
  const sides = ["left", "right", "base", "top"] as const;
  const moved: Move[] = sides
    .map((side) => ({ side, to: after.extents?.[side] ?? null, was: before.extents?.[side] ?? null }))
    .filter(({ to, was }) => to !== was);
  if ((after.depth ?? null) !== (before.depth ?? null))
    moved.push({ side: "depth", to: after.depth ?? null });
  return moved;
}

/** Move the faces of a box that sides of a drawing show. */
export async function moveSides(shared: SharedExtents, cut: Cut, moves: Move[]): Promise<SharedExtents> {
  let now = shared;
  for (const { side, to } of moves) {
    if (to === null) continue;
    const body = { version: now.version, cut, side, to };
    now = await unwrap<SharedExtents>(
      client.POST("/api/shared-extents/{id}/side", { params: { path: { id: now.id } }, body }),
    );
  }
  return now;
}

/** A change of a drawing as it is shown while it is dragged: sides that are moved are its own meanwhile. */
export const whileDragged = (cut: Cut, saved: Cut): Cut =>
  cut.shared_extents && movedSides(saved, cut).length > 0 ? { ...cut, shared_extents: "" } : cut;
