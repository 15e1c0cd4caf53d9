import { useQuery } from "@tanstack/react-query";
import { Refusal, type Sheet } from "../api/client";
import { keys } from "../api/queries";
import { parseView } from "../drawing/screen-form";

/** A sheet as printed; read anew after every change in the project, since titles and markers follow numbers. */
export const useSheetPicture = (sheet: Sheet) =>
  useQuery({
    queryKey: keys.sheetPicture(sheet.project_id, sheet.id),
    queryFn: async () => {
      const response = await fetch(`/api/sheets/${sheet.id}/view`);
      if (!response.ok) throw new Refusal(response.status, await response.json());
      return parseView(await response.arrayBuffer());
    },
  });
