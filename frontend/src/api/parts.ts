import { useQuery } from "@tanstack/react-query";
import {
  client,
  type ModelImport,
  type ModelPart,
  type NamedFile,
  type PartChoice,
  type PartEdit,
  type PlacePicture,
  type RevisionTaken,
  unwrap,
} from "./client";
import { keys, queryClient } from "./queries";

/** The parts that a project's model is put together from, the one that leads first. */
export const useParts = (project: number, wanted = true) =>
  useQuery({
    enabled: wanted,
    queryKey: keys.parts(project),
    queryFn: () =>
      unwrap<ModelPart[]>(client.GET("/api/projects/{id}/parts", { params: { path: { id: project } } })),
  });

/** Whose files are by their names, in the same order. */
export const useNamedFiles = (names: string[]) =>
  useQuery({
    queryKey: ["named files", names],
    queryFn: () => unwrap<NamedFile[]>(client.POST("/api/parts/named", { body: { names } })),
  });

const UNSAID = { name: null, discipline: null, place: null, points: null };
const edited = (edit: PartEdit) => ({ ...UNSAID, leads: null, ...edit });

/** Say of a file that was read which part it is, and where it lies. */
export async function choosePart(id: number, body: PartChoice) {
  await unwrap<ModelImport>(
    client.PATCH("/api/imports/{id}/part", {
      params: { path: { id } },
      body: { ...UNSAID, key: null, ...body },
    }),
  );
  queryClient.invalidateQueries({ queryKey: keys.imports });
}

const everything = (project: number) => queryClient.invalidateQueries({ queryKey: keys.project(project) });

export async function editPart(project: number, key: string, body: PartEdit) {
  const path = { id: project, key };
  const done = await unwrap<RevisionTaken>(
    client.PATCH("/api/projects/{id}/parts/{key}", { params: { path }, body: edited(body) }),
  );
  everything(project);
  return done;
}

export async function removePart(project: number, key: string) {
  const path = { id: project, key };
  const done = await unwrap<RevisionTaken>(
    client.DELETE("/api/projects/{id}/parts/{key}", { params: { path } }),
  );
  everything(project);
  return done;
}

/** A file that was read, as it would lie in the building; asked for anew when its place is another. */
export const useImportPicture = (id: number, place: string) =>
  useQuery({
    queryKey: ["place picture", id, place],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      unwrap<PlacePicture>(client.GET("/api/imports/{id}/picture", { params: { path: { id } } })),
  });

/** A part as it would lie with another place. */
export const usePartPicture = (project: number, key: string, edit: PartEdit, revision: number) =>
  useQuery({
    queryKey: ["place picture", project, key, edit, revision],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      unwrap<PlacePicture>(
        client.POST("/api/projects/{id}/parts/{key}/picture", {
          params: { path: { id: project, key } },
          body: edited(edit),
        }),
      ),
  });
