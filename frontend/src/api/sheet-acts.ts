import { client, type Sheet, unwrap } from "./client";
import { useSheetAct } from "./queries";

type SheetChange = { number?: string; title?: string; size?: Sheet["size"]; fields?: Sheet["fields"] };
type PlacementChange = { x?: number; y?: number; number?: string };

/** Everything that is done to sheets and placements. */
export function useSheetActs(project: number) {
  const add = useSheetAct(project, (input: { title: string; size?: Sheet["size"] }) =>
    unwrap<Sheet>(
      client.POST("/api/projects/{id}/sheets", {
        params: { path: { id: project } },
        body: { number: "", title: input.title, size: input.size ?? "A1" },
      }),
    ),
  );
  const edit = useSheetAct(project, ({ sheet, change }: { sheet: Sheet; change: SheetChange }) =>
    unwrap<Sheet>(
      client.PATCH("/api/sheets/{id}", {
        params: { path: { id: sheet.id } },
        body: { version: sheet.version, number: null, title: null, size: null, fields: null, ...change },
      }),
    ),
  );
  const remove = useSheetAct(project, async (sheet: Sheet) => {
    await unwrap(client.DELETE("/api/sheets/{id}", { params: { path: { id: sheet.id } } }));
    return undefined;
  });
  const place = useSheetAct(project, (input: { sheet: number; drawing: number; x?: number; y?: number }) =>
    unwrap<Sheet>(
      client.POST("/api/sheets/{id}/placements", {
        params: { path: { id: input.sheet } },
        body: { drawing_id: input.drawing, x: input.x ?? null, y: input.y ?? null },
      }),
    ),
  );
  const move = useSheetAct(
    project,
    (input: { placement: { id: number; version: number }; change: PlacementChange }) =>
      unwrap(
        client.PATCH("/api/placements/{id}", {
          params: { path: { id: input.placement.id } },
          body: { version: input.placement.version, x: null, y: null, number: null, ...input.change },
        }),
      ),
  );
  const take = useSheetAct(project, async (placement: number) => {
    await unwrap(client.DELETE("/api/placements/{id}", { params: { path: { id: placement } } }));
    return undefined;
  });
  return { add, edit, remove, place, move, take };
}
