import { useMemo } from "react";
import type { Drawing, DrawingPlanes, Settings } from "../api/client";
import { useModelBench } from "./bench-state";
import { faceCut, faceStyle } from "./faces";
import { type Opening, type Taking, takingOf, takingsOf } from "./opening";
import { useFaces, type Wanted } from "./use-faces";

const SCALE = 50; // at which cut faces are hatched
const USUAL = { left_out: [], see_through: [], see_through_kinds: [] };

export type OpenedBy = { opening: Opening; wanted: (Wanted | null)[] };

const MOST = 3; // cuts that open the model together

/** What the model is opened by: the plane that is looked for, or drawings, and the faces that this asks for. */
export function useOpening(planes: DrawingPlanes[], drawings: Drawing[], settings: Settings): OpenedBy {
  const { plane, drawing, others, thickness, kinds, elements } = useModelBench();
  return useMemo(() => {
    const hidden = { kinds: [...kinds].sort(), elements: [...elements].sort() };
    const style = faceStyle(settings.new_style, SCALE);
    const cuts: { takings: Taking[]; wanted: Wanted | null }[] = [];
    const said = JSON.stringify(hidden);
    if (plane) {
      const cut = {
        kind: "plane",
        point: plane.point,
        normal: plane.normal,
        ...USUAL,
      } as unknown as Drawing["cut"];
      const key = `${JSON.stringify(plane)} ${said}`;
      cuts.push({
        takings: [takingOf(plane, thickness)],
        wanted: { key, cut: faceCut(cut, hidden), style },
      });
    }
    const chosen = [...(plane || drawing === null ? [] : [drawing]), ...others];
    for (const id of chosen) {
      const leaves = planes.find((p) => p.drawing === id)?.leaves;
      const row = drawings.find((d) => d.id === id);
      if (!leaves || !row || cuts.length === MOST) continue;
      const key = `${id} ${row.view} ${said}`;
      cuts.push({ takings: takingsOf(leaves), wanted: { key, cut: faceCut(row.cut, hidden), style } });
    }
    const empty: null[] = Array.from({ length: MOST - cuts.length }, () => null);
    return { opening: cuts.map((c) => c.takings), wanted: [...cuts.map((c) => c.wanted), ...empty] };
  }, [plane, drawing, others, thickness, kinds, elements, planes, drawings, settings]);
}

/** The faces of each cut that opens the model, and what the others leave of it. */
export function useAllFaces(project: number, { opening, wanted }: OpenedBy) {
  const found = [
    useFaces(project, wanted[0] ?? null),
    useFaces(project, wanted[1] ?? null),
    useFaces(project, wanted[2] ?? null),
  ];
  const faces = found.flatMap(({ faces: one }, k) =>
    one ? [{ faces: one, others: opening.filter((_, other) => other !== k) }] : [],
  );
  return { faces, of: found[0]?.of ?? "", problem: found.find((f) => f.problem)?.problem ?? "" };
}
