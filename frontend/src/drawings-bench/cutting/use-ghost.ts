import type { Cut, Style } from "../../api/client";
import { useBench } from "../../desk/drawings-state";
import type { View } from "../../drawing/screen-form";
import { useView } from "../../drawing/use-view";

/** All that a drawing would show if it hid nothing, while somebody wants to see it. */
export function useGhost(project: number, spec: { cut: Cut; style: Style } | undefined): View | null {
  const ghost = useBench((s) => s.ghost);
  const hides = spec && (spec.cut.shown_set || spec.cut.without?.length || spec.cut.left_out?.length);
  const all =
    ghost && spec && hides
      ? { cut: { ...spec.cut, shown_set: "", without: [], left_out: [] } as Cut, style: spec.style }
      : undefined;
  return useView(project, undefined, all).view;
}
