import { useQuery } from "@tanstack/react-query";
import { type Cut, client, type Element, type Style, unwrap } from "./client";
import { keys } from "./queries";

/** Facts of elements by GlobalId; of a drawing, with the lines that it shows of them. */
export const elementsOf = (
  project: number,
  guids: string[],
  drawn: { cut: Cut | null; style: Style | null } = { cut: null, style: null },
) =>
  unwrap<Element[]>(
    client.POST("/api/projects/{id}/elements", {
      params: { path: { id: project } },
      body: { guids, cut: drawn.cut, style: drawn.style },
    }),
  );

/** An element as it is now in the newest model, with what is corrected of it. */
export function useElement(project: number, guid: string): Element | undefined {
  const { data } = useQuery({
    queryKey: [...keys.project(project), "element", guid],
    enabled: guid !== "",
    queryFn: () => elementsOf(project, [guid]),
  });
  return guid ? data?.[0] : undefined;
}
