import { useQuery } from "@tanstack/react-query";
import { type SaidOf, withSaid } from "../materials/places";
import {
  client,
  type MaterialHere,
  type MaterialPicture,
  type Materials,
  type Project,
  unwrap,
} from "./client";
import { saveDrawn } from "./project";
import { keys } from "./queries";

/** The materials of a project's model, those that are not clear first. */
export const useMaterials = (project: number, wanted: boolean) =>
  useQuery({
    enabled: wanted,
    queryKey: keys.materials(project),
    queryFn: () =>
      unwrap<Materials>(client.GET("/api/projects/{id}/materials", { params: { path: { id: project } } })),
  });

/** Of each material, by its name, a picture of where most of it is. */
export const useMaterialPictures = (project: number, wanted: boolean) =>
  useQuery({
    enabled: wanted,
    queryKey: [...keys.materials(project), "pictures"],
    queryFn: async () => {
      const found = await unwrap<MaterialPicture[]>(
        client.GET("/api/projects/{id}/materials/pictures", { params: { path: { id: project } } }),
      );
      return new Map(found.map((picture) => [picture.name, picture]));
    },
  });

/** Say what materials are in places, and how they are hatched; null: as the file says. */
export const sayOf = (project: Project, places: readonly MaterialHere[], said: SaidOf | null) =>
  saveDrawn(
    project,
    places.reduce((now, place) => withSaid(now, place, said), {
      materials: project.materials,
      materials_here: project.materials_here,
    }),
  );

/** Say what others say of build-ups and of hatches. */
export const takeOver = (project: Project, said: Record<string, string>, here: MaterialHere[]) =>
  saveDrawn(project, {
    materials: { ...project.materials, ...said },
    materials_here: [...project.materials_here, ...here],
  });

/** Say what materials are, by their names; null: nothing is said of it any more. */
export async function settleMaterials(project: Project, said: Record<string, string | null>) {
  const next = { ...project.materials };
  for (const [name, is] of Object.entries(said)) {
    if (is === null) delete next[name];
    else next[name] = is;
  }
  await saveDrawn(project, { materials: next });
}
