import { type Cut, client, type Element, type Style, unwrap } from "./client";

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
