import { useEffect } from "react";
import { keys, queryClient } from "./queries";

/** Keep every list as new as the database: the server tells of each change. */
export function useServerEvents() {
  useEffect(() => {
    const source = new EventSource("/api/events");
    source.onmessage = (event) => {
      const { project, what } = JSON.parse(event.data) as { project: number | null; what: string };
      if (project !== null) queryClient.invalidateQueries({ queryKey: keys.project(project) });
      else if (what === "connected") queryClient.invalidateQueries();
      if (project === null || what === "edit project" || what === "delete project") {
        queryClient.invalidateQueries({ queryKey: keys.imports });
        queryClient.invalidateQueries({ queryKey: keys.projects });
      }
    };
    return () => source.close();
  }, []);
}
