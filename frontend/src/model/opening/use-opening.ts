import { useMemo } from "react";
import type { Cut, Drawing, DrawingPlanes, Settings } from "../../api/client";
import type { FacesOfCut } from "../building/CutFaces";
import { faceCut, faceStyle } from "../building/faces";
import { useFaces, type Wanted } from "../building/use-faces";
import { useModelBench } from "../model-state";
import type { Showing } from "../view/use-showing";
import { boxSides, boxTakings, sidePolygon } from "./box-geometry";
import { type Opening, type Plane, type Taking, takingOf, takingsOf } from "./opening";

export const SCALE = 50; // at which cut faces are hatched
const USUAL = { left_out: [], see_through: [], see_through_kinds: [] };
const MOST = 3; // cuts that open the model together

/** What the model is opened by, and the faces that this asks for, each with the cut that it belongs to. */
export type OpenedBy = { opening: Opening; wanted: (Wanted & { of: number; box: boolean })[] };

const cutIn = (plane: Plane) =>
  ({ kind: "plane", point: plane.point, normal: plane.normal, ...USUAL }) as unknown as Cut;

/** The plane that is looked for, or drawings, or the sides of a box. */
export function useOpening(
  planes: DrawingPlanes[],
  drawings: Drawing[],
  settings: Settings,
  { hiding, standard }: Showing,
): OpenedBy {
  const { plane, drawing, others, thickness, box, coming } = useModelBench();
  return useMemo(() => {
    const style = faceStyle(settings.new_style, standard, SCALE);
    const said = JSON.stringify([hiding, standard]);
    const opening: Taking[][] = [];
    const wanted: OpenedBy["wanted"] = [];
    const add = (takings: Taking[], key: string, cut: Cut) => {
      wanted.push({ key, cut: faceCut(cut, hiding), style, of: opening.length, box: false });
      opening.push(takings);
    };
    if (box) {
      for (const side of boxSides(box.now)) {
        const cut = faceCut(cutIn(side.plane), hiding);
        const polygon = sidePolygon(side);
        const key = `${JSON.stringify([side.plane, polygon])} ${said}`;
        wanted.push({ key, cut: { ...cut, extents: { ...cut.extents, polygon } }, style, of: 0, box: true });
      }
      return { opening: [boxTakings(box.now)], wanted };
    }
    const row = drawings.find((d) => d.id === coming?.drawing);
    const there = coming?.plane ?? plane;
    if (plane && row) add([takingOf(plane, thickness)], `${row.id} ${row.view} ${said}`, row.cut);
    else if (plane && there)
      add([takingOf(plane, thickness)], `${JSON.stringify(there)} ${said}`, cutIn(there));
    const chosen = [...(plane || drawing === null ? [] : [drawing]), ...others];
    for (const id of chosen) {
      const leaves = planes.find((p) => p.drawing === id)?.leaves;
      const row = drawings.find((d) => d.id === id);
      if (leaves && row && opening.length < MOST)
        add(
          takingsOf(leaves.map((leaf) => ({ ...leaf, left: leaf.window[0] }))),
          `${id} ${row.view} ${said}`,
          row.cut,
        );
    }
    return { opening, wanted };
  }, [plane, drawing, others, thickness, hiding, standard, planes, drawings, settings, box, coming]);
}

/** The faces of each cut that opens the model, and what the others leave of it. */
export function useAllFaces(project: number, { opening, wanted }: OpenedBy) {
  const { found, problem } = useFaces(project, wanted);
  const faces: FacesOfCut[] = found.flatMap((one, k) => {
    const from = wanted[k];
    if (!one || !from) return [];
    return [{ faces: one.faces, others: from.box ? [] : opening.filter((_, other) => other !== from.of) }];
  });
  return { faces, of: found[0]?.key ?? "", problem };
}
