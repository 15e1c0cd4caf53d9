import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, type DesignDocument, type SheetDesign, unwrap } from "./client";
import { keys, report } from "./queries";

export const useDesigns = (project: number) =>
  useQuery({
    queryKey: keys.designs(project),
    queryFn: () =>
      unwrap<SheetDesign[]>(
        client.GET("/api/projects/{id}/sheet-designs", { params: { path: { id: project } } }),
      ),
  });

/** Everything that is done to sheet designs. */
export function useDesignActs(project: number) {
  const cache = useQueryClient();
  const renew = () => {
    cache.invalidateQueries({ queryKey: keys.designs(project) });
    cache.invalidateQueries({ queryKey: keys.sheets(project) });
  };
  const add = useMutation({
    mutationFn: (input: { copy_of?: string; name?: string; document?: DesignDocument }) =>
      unwrap<SheetDesign>(
        client.POST("/api/projects/{id}/sheet-designs", {
          params: { path: { id: project } },
          body: { copy_of: "corner-block", name: null, document: null, ...input },
        }),
      ),
    onSuccess: renew,
    onError: report,
  });
  const save = useMutation({
    mutationFn: ({ design, document }: { design: SheetDesign; document: DesignDocument }) =>
      unwrap<SheetDesign>(
        client.PATCH("/api/sheet-designs/{id}", {
          params: { path: { id: design.id ?? 0 } },
          body: { version: design.version, document },
        }),
      ),
    onSuccess: renew,
    onError: report,
  });
  const remove = useMutation({
    mutationFn: (design: SheetDesign) =>
      unwrap(client.DELETE("/api/sheet-designs/{id}", { params: { path: { id: design.id ?? 0 } } })),
    onSuccess: renew,
    onError: report,
  });
  return { add, save, remove };
}
