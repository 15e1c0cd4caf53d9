import { toast } from "sonner";
import type { Drawing } from "../api/client";
import { client, Refusal, unwrap } from "../api/client";
import { report } from "../api/queries";
import { useBench } from "./bench-state";

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

/** Deleting drawings, after asking what becomes of their callouts. */
export function useRemoval(project: number, current: Drawing | undefined) {
  const choose = useBench((s) => s.choose);
  const remove = async (drawing: Drawing, callouts?: Fate) => {
    try {
      const params = { path: { id: drawing.id }, query: { callouts } };
      await unwrap(client.DELETE("/api/drawings/{id}", { params }));
      if (drawing.id === current?.id) choose(project, drawing.parent_id ?? undefined);
    } catch (error) {
      askAboutCallouts(error, (fate) => remove(drawing, fate));
    }
  };
  const removeMany = async (ids: number[], callouts?: Fate) => {
    try {
      const params = { path: { id: project }, query: { callouts } };
      await unwrap(client.POST("/api/projects/{id}/drawings/delete", { params, body: { ids } }));
      if (current && ids.includes(current.id)) choose(project, undefined);
    } catch (error) {
      askAboutCallouts(error, (fate) => removeMany(ids, fate));
    }
  };
  return { remove, removeMany };
}
