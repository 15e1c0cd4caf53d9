import { useQuery } from "@tanstack/react-query";
import { toast } from "sonner";
import {
  client,
  type IssueChanges,
  type Issues,
  type MarksPlaced,
  type Publication,
  type PublicationNew,
  unwrap,
} from "./client";
import { keys, queryClient, report } from "./queries";

/** The files that this window asked for: only it fetches them. */
const mine = new Set<number>();

/** Make a file of sheets, or issue them; the file is fetched when it is ready. */
export async function publish(project: number, wanted: Partial<PublicationNew>) {
  const body: PublicationNew = { sheets: [], form: "pdf", dpi: 150, issue: null, plot: null, ...wanted };
  try {
    const made = await unwrap<Publication>(
      client.POST("/api/projects/{id}/publications", { params: { path: { id: project } }, body }),
    );
    mine.add(made.id);
    hearPublication(made);
    return true;
  } catch (error) {
    report(error);
    return false;
  }
}

const cancel = (id: number) =>
  unwrap(client.DELETE("/api/publications/{id}", { params: { path: { id } } })).catch(report);

async function retry(id: number) {
  try {
    const again = await unwrap<Publication>(
      client.POST("/api/publications/{id}/retry", { params: { path: { id } } }),
    );
    mine.add(again.id);
    hearPublication(again);
  } catch (error) {
    report(error);
  }
}

/** How far a file is; news of one that was heard of as ended come too late. */
export function hearPublication(now: Publication) {
  if (now.issue_id !== null) queryClient.invalidateQueries({ queryKey: keys.issues(now.project_id) });
  if (now.issue_id !== null) queryClient.invalidateQueries({ queryKey: keys.sheets(now.project_id) });
  if (!mine.has(now.id)) return;
  const id = `publication ${now.id}`;
  if (now.state === "waiting" || now.state === "working") {
    toast(`Drawing sheets: ${now.done} of ${now.of}`, {
      id,
      duration: Number.POSITIVE_INFINITY,
      action: { label: "Cancel", onClick: () => cancel(now.id) },
    });
    return;
  }
  mine.delete(now.id);
  if (now.state === "ready") {
    toast(`${now.file_name} is ready.`, { id, duration: 5000, action: undefined });
    window.location.assign(`/api/publications/${now.id}/file`);
  } else if (now.state === "failed")
    toast.error(now.message, {
      id,
      duration: 30_000,
      action: { label: "Try again", onClick: () => retry(now.id) },
    });
  else toast("Cancelled; nothing was made.", { id, duration: 3000, action: undefined });
}

/** Marks of a revision on the drawings of a sheet, around what has changed since it was issued. */
export async function markChanges(project: number, issued: number) {
  try {
    const { marks, drawings, left } = await unwrap<MarksPlaced>(
      client.POST("/api/issued-sheets/{id}/revision-marks", { params: { path: { id: issued } } }),
    );
    queryClient.invalidateQueries({ queryKey: keys.sheets(project) });
    if (left.length > 0)
      toast(`Not marked, as they were moved or scaled since: ${left.join(", ")}.`, { duration: 8000 });
    else if (marks === 0) toast("Every change on its drawings has its mark already.");
    if (marks > 0) toast(`${marks} marks placed on ${drawings} drawings; undo takes them all back.`);
  } catch (error) {
    report(error);
  }
}

export const useIssues = (project: number) =>
  useQuery({
    queryKey: keys.issues(project),
    queryFn: () =>
      unwrap<Issues>(client.GET("/api/projects/{id}/issues", { params: { path: { id: project } } })),
  });

/** What has changed since an issue. */
export const useIssueChanges = (issue: number | null) =>
  useQuery({
    queryKey: ["issue changes", issue],
    enabled: issue !== null,
    gcTime: 0,
    staleTime: 0,
    queryFn: () =>
      unwrap<IssueChanges>(client.GET("/api/issues/{id}/changes", { params: { path: { id: issue ?? 0 } } })),
  });
