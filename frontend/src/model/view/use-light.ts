import { useQuery } from "@tanstack/react-query";
import { client, type Light, type Sun, unwrap } from "../../api/client";

/** The way the light of a sun goes in the model; of one by the view that of the drawing that opens the model. */
export function useLight(project: number, sun: Sun | null, drawing: number | null): Light | undefined {
  const { data } = useQuery({
    queryKey: ["light", project, sun, sun?.by === "view" ? drawing : null],
    enabled: sun !== null,
    retry: false,
    placeholderData: (before: Light | undefined) => before,
    queryFn: () =>
      unwrap<Light>(
        client.POST("/api/projects/{id}/light", {
          params: { path: { id: project } },
          body: { sun: sun as Sun, drawing: sun?.by === "view" ? drawing : null },
        }),
      ),
  });
  return sun ? data : undefined;
}
