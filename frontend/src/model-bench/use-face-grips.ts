import type { FlatFace, Project, Solid, Stop } from "../api/client";
import { correct, useFlatFaces } from "../api/corrections";
import { keptOf } from "../corrections/FacesPart";
import { faceTo, IN_MODEL, movedOut, samePlane, useHolding } from "../corrections/holding";
import type { HeldFaces } from "../model/faces/FaceGrips";
import type { V3 } from "../model/opening/opening";
import { useStops } from "../model/planes/PlaneGrip";

const LEAST = 1e-4; // metres; a face that is moved by less stays
const NONE: Stop[] = [];

/** The faces of what is held in the model, and what becomes of one that is dragged. */
export function useFaceGrips(project: Project, solid: Solid | undefined): HeldFaces | undefined {
  const { of, face, by } = useHolding();
  const element = of?.drawing === IN_MODEL ? of.element : undefined;
  const { data } = useFlatFaces(project, element);
  const held = data?.faces.find((one) => face !== null && samePlane(one.drawn, face.drawn)) ?? null;
  const { data: stops = NONE } = useStops(
    project.id,
    held ? (held.drawn.looks as V3) : null,
    solid?.geometry ?? "",
  );
  if (!element || !data) return undefined;
  const drop = (one: FlatFace) => {
    const { face: dragged, by: far } = useHolding.getState();
    if (!dragged || Math.abs(far) < LEAST) {
      useHolding.setState({ face: one, by: 0 });
      return;
    }
    const kept = keptOf(project, element, one.face);
    useHolding.setState({ face: null, by: 0 });
    void correct(project, kept ?? null, faceTo(element, one, movedOut(one, far), { reason: kept?.reason }));
  };
  return {
    faces: data.faces,
    held,
    by,
    stops,
    onMove: (one, far) => useHolding.setState({ face: one, by: Math.round(far * 1e4) / 1e4 }),
    onDrop: drop,
  };
}
