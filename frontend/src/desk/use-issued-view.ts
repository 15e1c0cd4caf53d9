import { useQuery } from "@tanstack/react-query";
import { client, unwrap } from "../api/client";
import { parseView } from "../drawing/screen-form";

/** A sheet as it was issued, or (`changes`) as it is now over what was issued; nothing where none is wanted. */
export const useIssuedView = (issued: number | null, changes: boolean) =>
  useQuery({
    queryKey: ["issued sheet", issued, changes],
    enabled: issued !== null,
    gcTime: 0,
    queryFn: async () => {
      const request = { params: { path: { id: issued ?? 0 } }, parseAs: "arrayBuffer" as const };
      const answer = changes
        ? client.GET("/api/issued-sheets/{id}/changes", request)
        : client.GET("/api/issued-sheets/{id}/view", request);
      return parseView(await unwrap<ArrayBuffer>(answer));
    },
  });
