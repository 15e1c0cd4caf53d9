import { client, type Project, type ProjectEdit, unwrap } from "./client";
import { keys, queryClient, report } from "./queries";

export type ProjectChange = Partial<Omit<ProjectEdit, "version">>;

const AS_IT_IS = {
  name: null,
  client: null,
  lengths: null,
  names: null,
  sheet_register: null,
  templates: null,
  unchecked: null,
  materials: null,
  materials_here: null,
  corrections: null,
};

export const patchProject = (project: Project, change: ProjectChange) =>
  unwrap<Project>(
    client.PATCH("/api/projects/{id}", {
      params: { path: { id: project.id } },
      body: { version: project.version, ...AS_IT_IS, ...change },
    }),
  );

/** Save something of a project that is drawn, and ask anew for all that depends on it. */
export async function saveDrawn(project: Project, change: ProjectChange): Promise<boolean> {
  const saved = await saveProject(project, change);
  void queryClient.invalidateQueries({ queryKey: keys.project(project.id) });
  return saved;
}

/** Save something of a project itself; whether it was taken. */
export async function saveProject(project: Project, change: ProjectChange): Promise<boolean> {
  try {
    queryClient.setQueryData(keys.project(project.id), await patchProject(project, change));
    return true;
  } catch (error) {
    report(error);
    void queryClient.invalidateQueries({ queryKey: keys.project(project.id), exact: true });
    return false;
  }
}
