import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import type { Drawing, Project, SolidLook } from "../../api/client";
import { client, unwrap } from "../../api/client";
import { useShownSets, useStandards } from "../../api/queries";
import type { ColourOf, ShownOf } from "../building/Building";
import { colourOf, shownOf } from "../building/looks";
import { AS_DRAWN, useModelBench } from "../model-state";

/** What cuts and bodies leave out, as drawings say it. */
export type Hiding = { without: string[]; left_out: string[]; shown_set: string };
export type Showing = { shown: ShownOf; colour: ColourOf; hiding: Hiding; standard: string };

/** How the model shows: by what is hidden here, a shown set and a standard, or as a drawing has it. */
export function useShowing(project: Project, like: Drawing | undefined, usual: string): Showing {
  const { storey, kinds, elements, seeThrough, shownSet, standard, ghost, colours } = useModelBench();
  const drawn = shownSet === AS_DRAWN ? like : undefined;
  const followed = drawn ? (drawn.cut.shown_set ?? "") : shownSet === AS_DRAWN ? "" : shownSet;
  const used = standard || drawn?.style.standard || usual;
  const look = useLook(project, used, followed);
  return useMemo(() => {
    const left = {
      kinds: new Set([...kinds, ...(drawn?.cut.without ?? []), ...(look?.without ?? [])]),
      elements: new Set([...elements, ...(drawn?.cut.left_out ?? []), ...(look?.left_out ?? [])]),
      throughKinds: new Set([...seeThrough, ...(drawn?.cut.see_through_kinds ?? [])]),
      throughElements: new Set(drawn?.cut.see_through),
    };
    return {
      shown: shownOf(storey, left, ghost),
      colour: colourOf(colours, look?.tints ?? []),
      hiding: {
        without: [...new Set([...kinds, ...(drawn?.cut.without ?? [])])].sort(),
        left_out: [...new Set([...elements, ...(drawn?.cut.left_out ?? [])])].sort(),
        shown_set: followed,
      },
      standard: used,
    };
  }, [storey, kinds, elements, seeThrough, drawn, look, ghost, colours, followed, used]);
}

/** Colours by a standard, and what a shown set leaves out; asked for again when one of them is edited. */
function useLook(project: Project, standard: string, shownSet: string): SolidLook | undefined {
  const { data: sets = [] } = useShownSets(project.id);
  const { data: standards = [] } = useStandards(project.id);
  const versions = [
    standards.find((s) => s.key === standard)?.version,
    sets.find((s) => s.key === shownSet)?.version,
  ];
  const { data } = useQuery({
    queryKey: ["solid look", project.id, project.revision, standard, shownSet, versions],
    placeholderData: (before: SolidLook | undefined) => before,
    queryFn: () =>
      unwrap<SolidLook>(
        client.GET("/api/projects/{id}/solid-look", {
          params: { path: { id: project.id }, query: { standard, shown_set: shownSet } },
        }),
      ),
  });
  return data;
}
