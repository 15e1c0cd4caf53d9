import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { client, type StandardDocument, type Tried, unwrap, type Words } from "./client";
import { keys } from "./queries";

/** The shipped words for materials by the code of their language. */
export const useWordLanguages = () =>
  useQuery({
    queryKey: ["word languages"],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: async () => {
      const found = await unwrap<Words[]>(client.GET("/api/words"));
      return Object.fromEntries(found.map(({ language, words }) => [language, words]));
    },
  });

/** What the materials of a project would be by the words of a standard as it stands in the window. */
export const useTried = (project: number, document: StandardDocument) =>
  useQuery({
    queryKey: [...keys.materials(project), "tried", document.materials],
    placeholderData: keepPreviousData,
    queryFn: () =>
      unwrap<Tried[]>(
        client.POST("/api/projects/{id}/materials/tried", {
          params: { path: { id: project } },
          body: document,
        }),
      ),
  });
