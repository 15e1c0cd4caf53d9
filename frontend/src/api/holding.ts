import { useQuery } from "@tanstack/react-query";
import type { Drawing, Held } from "./client";
import { client, unwrap } from "./client";
import { keys, putDrawing, queryClient, report } from "./queries";

/** What a held drawing does not show yet. */
export const useHeld = (drawing: Drawing, revision: number) =>
  useQuery({
    queryKey: [...keys.drawings(drawing.project_id), "held", drawing.id, drawing.version, revision],
    enabled: Boolean(drawing.cut.held),
    queryFn: () =>
      unwrap<Held>(client.GET("/api/drawings/{id}/hold", { params: { path: { id: drawing.id } } })),
  });

async function put(drawing: Drawing, act: Promise<Drawing>) {
  try {
    putDrawing(queryClient, drawing.project_id, await act);
  } catch (error) {
    report(error);
  }
}

const byId = (drawing: Drawing) => ({ params: { path: { id: drawing.id } } });

/** Let a drawing stay as the newest revision of the model has it. */
export const holdDrawing = (drawing: Drawing) =>
  put(
    drawing,
    unwrap<Drawing>(
      client.POST("/api/drawings/{id}/hold", {
        ...byId(drawing),
        body: { version: drawing.version, revision: null },
      }),
    ),
  );

/** Let it follow the newest model again. */
export const letGo = (drawing: Drawing) =>
  put(
    drawing,
    unwrap<Drawing>(
      client.POST("/api/drawings/{id}/let-go", { ...byId(drawing), body: { version: drawing.version } }),
    ),
  );

/** Let it show some of what changed since: elements by GlobalId. */
export const takeOver = (drawing: Drawing, elements: string[]) =>
  put(
    drawing,
    unwrap<Drawing>(
      client.POST("/api/drawings/{id}/take-over", {
        ...byId(drawing),
        body: { version: drawing.version, elements },
      }),
    ),
  );
