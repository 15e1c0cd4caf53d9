import { useQuery } from "@tanstack/react-query";
import { type BuildUp, type Correction, type CorrectionState, client, type Project, unwrap } from "./client";
import { saveDrawn } from "./project";
import { keys } from "./queries";

/** The build-up of an element as its file has it. */
export const useBuildUp = (project: Project | undefined, element: string, wanted: boolean) =>
  useQuery({
    enabled: wanted && project !== undefined,
    queryKey: [...keys.project(project?.id ?? 0), "build-up", element, project?.revision],
    queryFn: () =>
      unwrap<BuildUp>(
        client.GET("/api/projects/{id}/build-up", {
          params: { path: { id: project?.id ?? 0 }, query: { element } },
        }),
      ),
  });

/** The corrections of a project, and what became of each. */
export const useCorrections = (project: number) =>
  useQuery({
    queryKey: [...keys.project(project), "corrections"],
    queryFn: () =>
      unwrap<CorrectionState[]>(
        client.GET("/api/projects/{id}/corrections", { params: { path: { id: project } } }),
      ),
  });

/** Correct what one is of; null: it is as its file has it again. */
export function correct(
  project: Project,
  of: { element: string; build_up: string },
  wanted: Correction | null,
) {
  const others = project.corrections.filter(
    (one) => (one.element ?? "") !== of.element || (one.build_up ?? "") !== of.build_up,
  );
  return saveDrawn(project, { corrections: wanted ? [...others, wanted] : others });
}
