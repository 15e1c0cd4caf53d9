import type { CameraControls } from "@react-three/drei";
import type { RootState } from "@react-three/fiber";
import { type RefObject, useEffect, useState } from "react";
import type * as THREE from "three";
import { useLengths } from "../../fields/lengths";
import { useModelBench } from "../model-state";
import type { V3 } from "../opening/opening";
import { nearestOn } from "../opening/plane-geometry";
import { useDrag } from "../planes/use-drag";
import type { GroundPoint } from "./ground-points";

const UP: V3 = [0, 0, 1];
const STEP = 0.01; // metres that heights come in while they are dragged

type Common = {
  rayAt: (event: { clientX: number; clientY: number }) => THREE.Ray | null;
  three: RefObject<RootState | null>;
  controls: RefObject<CameraControls | null>;
  onRaise: (point: GroundPoint, height: number) => void;
};

/** The points of the ground over the picture, each dragged up and down. */
export function GroundHandles({ points, ...common }: Common & { points: GroundPoint[] }) {
  return points.map((point) => <Handle key={`${point.role} ${point.index}`} point={point} {...common} />);
}

function Handle({ point, rayAt, three, controls, onRaise }: Common & { point: GroundPoint }) {
  const [height, setHeight] = useState<number | null>(null);
  const { say } = useLengths();
  const says = useModelBench((s) => s.set);
  const [x, y, z] = point.at;
  // biome-ignore lint/correctness/useExhaustiveDependencies: another height, another place
  useEffect(() => {
    three.current?.invalidate();
  }, [height, z, three]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the height that stands ends what was dragged
  useEffect(() => setHeight(null), [z]);
  const along = (event: { clientX: number; clientY: number }) => {
    const ray = rayAt(event);
    const at: [V3, V3] | null = ray && [ray.origin.toArray() as V3, ray.direction.toArray() as V3];
    return at ? nearestOn(point.at, UP, ...at) : 0;
  };
  const move = (to: number) => {
    const next = Math.round(to / STEP) * STEP;
    setHeight(Number(next.toFixed(4)));
    says({ says: `ground at ${say(next)}` });
  };
  const drop = (to: number | null) => {
    says({ says: "" });
    if (to !== null && to !== z) onRaise(point, to);
  };
  const drag = useDrag<number>(controls, {
    begin: along,
    move: (event, began) => move(z + along(event) - began),
    end: () => drop(height),
  });
  return (
    <button
      type="button"
      data-at={[x, y, height ?? z].join(",")}
      className={`btn btn-circle pointer-events-auto absolute top-0 left-0 size-3.5 min-h-0 cursor-ns-resize touch-none p-0 ${point.role === "existing" ? "btn-neutral" : "btn-primary"}`}
      aria-label={`Point ${point.index + 1} of the ${point.role} ground, at ${say(height ?? z)}`}
      title="Drag up or down; arrow keys move it by 100 mm"
      {...drag}
      onKeyDown={(event) => {
        if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
        event.preventDefault();
        drop(Number((z + (event.key === "ArrowUp" ? 0.1 : -0.1)).toFixed(4)));
      }}
    />
  );
}
