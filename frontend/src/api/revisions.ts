import { useQuery } from "@tanstack/react-query";
import { parseView } from "../drawing/screen-form";
import {
  client,
  fetched,
  type ModelImport,
  type Problem,
  Refusal,
  type Revision,
  type RevisionTaken,
  unwrap,
} from "./client";
import { keys, queryClient, report } from "./queries";

export const useRevisions = (project: number, wanted: boolean) =>
  useQuery({
    enabled: wanted,
    queryKey: keys.revisions(project),
    queryFn: () =>
      unwrap<Revision[]>(client.GET("/api/projects/{id}/revisions", { params: { path: { id: project } } })),
  });

/** A drawing laid over an earlier revision of the model; or `alone`, as it was with that one. */
export const useComparison = (
  drawing: { id: number; view: string } | undefined,
  number: number | undefined,
  alone = false,
) =>
  useQuery({
    queryKey: ["comparison", drawing?.id, drawing?.view, number, alone],
    enabled: drawing !== undefined && number !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: async () => {
      const what = alone ? `view?revision=${number}` : `comparison/${number}`;
      const response = await fetched(`/api/drawings/${drawing?.id}/${what}`);
      return parseView(await response.arrayBuffer());
    },
  });

/** Upload a model with progress, by the browser's own request that tells of it; `into` names the project that it is a
 * newer revision for. */
export function sendModel(
  file: File,
  said: Record<string, string>,
  onShare: (share: number) => void,
): Promise<ModelImport> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", "/api/imports");
    request.upload.onprogress = (event) => event.lengthComputable && onShare(event.loaded / event.total);
    request.onload = () => {
      try {
        const answer: unknown = JSON.parse(request.responseText);
        if (request.status < 300) resolve(answer as ModelImport);
        else reject(new Refusal(request.status, answer as Problem));
      } catch {
        reject(new Refusal(request.status, refused("The server did not take the file.")));
      }
    };
    request.onerror = () =>
      reject(new Refusal(0, refused("The upload broke off; nothing was kept. Try again.")));
    const form = new FormData();
    form.append("file", file);
    for (const [key, value] of Object.entries(said)) form.append(key, value);
    request.send(form);
  });
}

const refused = (message: string): Problem => ({ message, field: "", current: null, request: "" });

/** Make a proposed revision the one in use; everything of the project may look different then. */
export async function takeRevision(project: number, id: number, anyway: boolean) {
  const done = await unwrap<RevisionTaken>(
    client.POST("/api/imports/{id}/take", { params: { path: { id } }, body: { anyway } }),
  );
  queryClient.invalidateQueries({ queryKey: keys.project(project) });
  queryClient.invalidateQueries({ queryKey: keys.imports });
  return done;
}

/** Propose an earlier revision anew: what would change is shown before anything does. */
export async function proposeAgain(project: number, number: number) {
  try {
    await unwrap<unknown>(
      client.POST("/api/projects/{id}/revisions/{number}/propose", {
        params: { path: { id: project, number } },
      }),
    );
  } catch (error) {
    report(error);
  }
  queryClient.invalidateQueries({ queryKey: keys.imports });
}

export const dropImport = (id: number) =>
  unwrap<undefined>(client.DELETE("/api/imports/{id}", { params: { path: { id } } }));
