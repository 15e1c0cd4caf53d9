import { useQuery } from "@tanstack/react-query";
import {
  type BuildUp,
  type Correction,
  type CorrectionState,
  client,
  type LayersCorrection,
  type Project,
  unwrap,
} from "./client";
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

/** Correct the layers of what one is of; null: they are as its file has them again. */
export function correctLayers(
  project: Project,
  of: { element: string; build_up: string },
  wanted: LayersCorrection | null,
) {
  const before = project.corrections.find(
    (one) => "layers" in one && (one.element ?? "") === of.element && (one.build_up ?? "") === of.build_up,
  );
  return correct(project, before ?? null, wanted);
}

/** Put a correction in the place of another one; null: none was, or shall be. */
export function correct(project: Project, before: Correction | null, wanted: Correction | null) {
  const others = project.corrections.filter((one) => JSON.stringify(one) !== JSON.stringify(before));
  return saveDrawn(project, { corrections: wanted ? [...others, wanted] : others });
}
