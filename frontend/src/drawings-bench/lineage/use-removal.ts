import { toast } from "sonner";
import type { Drawing } from "../../api/client";
import { client, Refusal, unwrap } from "../../api/client";
import { keys, queryClient, report } from "../../api/queries";
import { useBench } from "../../desk/drawings-state";

/** What becomes of the callouts of a drawing that is deleted. */
type Fate = "keep" | "delete";

function askAboutCallouts(error: unknown, go: (fate: Fate) => void) {
  if (!(error instanceof Refusal) || error.problem.field !== "callouts") {
    report(error);
    return;
  }
  toast(error.message, {
    id: "callouts",
    duration: 20_000,
    action: { label: "Keep them", onClick: () => go("keep") },
    cancel: { label: "Delete them too", onClick: () => go("delete") },
  });
}

/** Says on which sheets drawings stand that are to be deleted, and offers to take them off; whether there are any. */
function askAboutSheets(project: number, ids: number[], go: () => void): boolean {
  const all = queryClient.getQueryData<Drawing[]>(keys.drawings(project)) ?? [];
  const mine = all.filter((d) => ids.includes(d.id) && d.placement);
  const numbers = mine
    .flatMap((d) => [d.placement, ...d.also_on])
    .flatMap((p) => (p ? [p.sheet_number] : []));
  const sheets = [...new Set(numbers)].sort();
  if (sheets.length === 0) return false;
  const who = mine.length === 1 ? `“${mine[0]?.title}” stands` : `${mine.length} of these stand`;
  const where = sheets.length > 6 ? `${sheets.slice(0, 6).join(", ")} and others` : sheets.join(", ");
  toast(`${who} on sheet ${where}.`, {
    id: "placed",
    duration: 20_000,
    action: { label: "Take off and delete", onClick: go },
  });
  return true;
}

/** Deleting drawings, after asking what becomes of their places on sheets and of their callouts. */
export function useRemoval(project: number, current: Drawing | undefined) {
  const choose = useBench((s) => s.choose);
  const remove = async (drawing: Drawing, callouts?: Fate, asked = false) => {
    if (!asked && askAboutSheets(project, [drawing.id], () => remove(drawing, callouts, true))) return;
    try {
      const params = { path: { id: drawing.id }, query: { callouts } };
      await unwrap(client.DELETE("/api/drawings/{id}", { params }));
      if (drawing.id === current?.id) choose(project, drawing.parent_id ?? undefined);
    } catch (error) {
      askAboutCallouts(error, (fate) => remove(drawing, fate, true));
    }
  };
  const removeMany = async (ids: number[], callouts?: Fate, asked = false) => {
    if (!asked && askAboutSheets(project, ids, () => removeMany(ids, callouts, true))) return;
    try {
      const params = { path: { id: project }, query: { callouts } };
      await unwrap(client.POST("/api/projects/{id}/drawings/delete", { params, body: { ids } }));
      if (current && ids.includes(current.id)) choose(project, undefined);
    } catch (error) {
      askAboutCallouts(error, (fate) => removeMany(ids, fate, true));
    }
  };
  return { remove, removeMany };
}
