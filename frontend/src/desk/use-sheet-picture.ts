import { useQuery } from "@tanstack/react-query";
import { client, type Sheet, unwrap } from "../api/client";
import { keys } from "../api/queries";
import { parseView, type View } from "../drawing/screen-form";

type Wanted = { sheet: number; done: (data: ArrayBuffer) => void; failed: (error: unknown) => void };
const waiting = new Map<number, Wanted[]>();
const MOST = 50; // sheets that one request may ask for
const LATER = 100; // ms; what the panes ask for comes first

/** The picture of a sheet, asked for together with all others of its project that are wanted at the moment. */
function pictureOf(sheet: Sheet): Promise<ArrayBuffer> {
  return new Promise((done, failed) => {
    const others = waiting.get(sheet.project_id);
    if (others) others.push({ sheet: sheet.id, done, failed });
    else {
      waiting.set(sheet.project_id, [{ sheet: sheet.id, done, failed }]);
      setTimeout(() => ask(sheet.project_id), LATER);
    }
  });
}

async function ask(project: number) {
  const all = waiting.get(project) ?? [];
  waiting.delete(project);
  for (let k = 0; k < all.length; k += MOST) {
    const some = all.slice(k, k + MOST);
    try {
      const body = { ids: some.map((w) => w.sheet) };
      const path = { id: project };
      const request = { params: { path }, body, parseAs: "arrayBuffer" as const };
      const data = await unwrap<ArrayBuffer>(client.POST("/api/projects/{id}/sheet-pictures", request));
      const parts = new DataView(data);
      let at = 0;
      for (const wanted of some) {
        const length = parts.getUint32(at, true);
        wanted.done(data.slice(at + 4, at + 4 + length));
        at += 4 + length;
      }
    } catch (error) {
      for (const wanted of some) wanted.failed(error);
    }
  }
}

/** A sheet as printed; read again only when it looks different. */
export const useSheetPicture = (sheet: Sheet) =>
  useQuery({
    queryKey: keys.sheetPicture(sheet.id, sheet.picture),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    placeholderData: (before: View | undefined) => before,
    queryFn: async () => parseView(await pictureOf(sheet)),
  });
