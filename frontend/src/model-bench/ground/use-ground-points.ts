import { useMemo, useState } from "react";
import type { Solid } from "../../api/client";
import { raiseGroundPoint, sayGround, useGround } from "../../api/ground";
import { type GroundPoint, groundPoints, raised } from "../../model/ground/ground-points";
import { middleOf } from "../../model/opening/plane-geometry";

/** The points of the project's ground in the picture, once somebody wants to move them there. */
export function useGroundPoints(project: number, solid: Solid | undefined) {
  const { data: state } = useGround(project);
  const [on, set] = useState(false);
  const { points, of } = useMemo(
    () => (state && solid ? groundPoints(state.grounds, middleOf(solid)) : { points: [], of: 0 }),
    [state, solid],
  );
  const raise = async (point: GroundPoint, height: number) => {
    if (!state) return;
    const { version, grounds } = state;
    const { role, index } = point;
    if (grounds[role]?.shape?.kind === "points")
      await raiseGroundPoint(project, { version, role, index, height });
    else await sayGround(project, version, raised(grounds, point, height));
  };
  return {
    shown: on ? points : undefined,
    raise,
    handles: { on, shown: points.length, of, set },
  };
}
