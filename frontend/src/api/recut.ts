import { toast } from "sonner";
import { client, type Recut, unwrap } from "./client";
import { report } from "./queries";

/** Cut all drawings of a project anew in the background; every window of it hears how far it is. */
export const startRecut = (project: number) =>
  unwrap<Recut>(client.POST("/api/projects/{id}/recut", { params: { path: { id: project } } })).catch(report);

const cancel = (project: number) =>
  unwrap(client.DELETE("/api/projects/{id}/recut", { params: { path: { id: project } } })).catch(report);

export function hearRecut(project: number, { done, of }: Recut) {
  const id = `recut ${project}`;
  if (of === 0) toast.dismiss(id);
  else if (done === of) toast(`All ${of} drawings are cut anew.`, { id, duration: 3000, action: undefined });
  else
    toast(`Cutting drawings anew: ${done} of ${of}`, {
      id,
      duration: Number.POSITIVE_INFINITY,
      action: { label: "Cancel", onClick: () => cancel(project) },
    });
}
