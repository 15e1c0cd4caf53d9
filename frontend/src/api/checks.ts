import { useQueries, useQuery } from "@tanstack/react-query";
import type { Drawing, Finding, Offer, Sheet, Sweep } from "./client";
import { client, unwrap } from "./client";
import { keys, patchDrawing, putDrawing, queryClient, report } from "./queries";

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

/** Where one more section would explain most, along x and along y. */
export const useSweeps = (project: number, asked: boolean) =>
  useQuery({
    queryKey: [...keys.checks(project), "sweeps"],
    enabled: asked,
    queryFn: () =>
      unwrap<Sweep[]>(client.GET("/api/projects/{id}/sweeps", { params: { path: { id: project } } })),
  });

/** Do what a finding offers: elements are left out, or drawn whole; or another detail is used instead. */
export async function takeOffer(project: number, offer: Offer) {
  try {
    const path = { params: { path: { id: offer.drawing_id } } };
    const drawing = await unwrap<Drawing>(client.GET("/api/drawings/{id}", path));
    if (offer.instead) {
      const body = { version: drawing.version, target: offer.instead };
      await unwrap<Drawing>(client.POST("/api/drawings/{id}/use-instead", { ...path, body }));
      await queryClient.invalidateQueries({ queryKey: keys.drawings(project) });
      await queryClient.invalidateQueries({ queryKey: keys.checks(project) });
      return;
    }
    const cut = {
      ...drawing.cut,
      left_out: [...(drawing.cut.left_out ?? []), ...(offer.left_out ?? [])],
      whole: [...(drawing.cut.whole ?? []), ...(offer.whole ?? [])],
    };
    putDrawing(queryClient, project, await patchDrawing(drawing, { cut }));
    await queryClient.invalidateQueries({ queryKey: keys.checks(project) });
  } catch (error) {
    report(error);
  }
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
