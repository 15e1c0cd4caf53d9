import { useQueries, useQuery } from "@tanstack/react-query";
import { client, type Finding, type Sheet, unwrap } from "./client";
import { keys, queryClient, report } from "./queries";

/** What is wrong in a project, but for the texts of its sheets. */
export const useChecks = (project: number) =>
  useQuery({
    queryKey: keys.checks(project),
    queryFn: () =>
      unwrap<Finding[]>(client.GET("/api/projects/{id}/checks", { params: { path: { id: project } } })),
  });

/** What is wrong with the texts of sheets, one after the other; and how many were looked at. */
export function useTextChecks(sheets: Sheet[]): { found: Finding[]; done: number } {
  return useQueries({
    queries: sheets.map((s) => ({
      queryKey: [...keys.checks(s.project_id), "texts", s.id, s.picture],
      staleTime: Number.POSITIVE_INFINITY,
      queryFn: () =>
        unwrap<Finding[]>(client.GET("/api/sheets/{id}/text-checks", { params: { path: { id: s.id } } })),
    })),
    combine: (all) => ({
      found: all.flatMap((a) => a.data ?? []),
      done: all.filter((a) => a.isSuccess).length,
    }),
  });
}

/** Leave a finding as it is; without a reason it counts again. */
export async function leaveFinding(project: number, key: string, reason: string) {
  try {
    await unwrap(
      client.POST("/api/projects/{id}/left-findings", {
        params: { path: { id: project } },
        body: { key, reason },
      }),
    );
    await queryClient.invalidateQueries({ queryKey: keys.checks(project) });
  } catch (error) {
    report(error);
  }
}
