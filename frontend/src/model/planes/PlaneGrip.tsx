import type { CameraControls } from "@react-three/drei";
import type { RootState } from "@react-three/fiber";
import { useQuery } from "@tanstack/react-query";
import { type RefObject, useEffect } from "react";
import * as THREE from "three";
import type { Stop } from "../../api/client";
import { client, unwrap } from "../../api/client";
import { useModelBench } from "../model-state";
import { dot, minus, type Plane, plus, type V3 } from "../opening/opening";
import { nearestOn } from "../opening/plane-geometry";
import { useDrag } from "./use-drag";

const NEAR = 8; // pixels from which a plane is brought to a stop

/** Where a plane with this direction may come to rest. */
export const useStops = (project: number, normal: V3 | null, geometry: string) =>
  useQuery({
    queryKey: ["plane stops", project, geometry, normal?.map((x) => Math.round(x * 1e4)).join()],
    enabled: normal !== null,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () => {
      const [x, y, z] = normal as V3;
      return unwrap<Stop[]>(
        client.GET("/api/projects/{id}/plane-stops", {
          params: { path: { id: project }, query: { x, y, z } },
        }),
      );
    },
  });

type Props = {
  label: string;
  tone: "btn-primary" | "btn-accent";
  /** Where many stand beside each other. */
  small?: boolean;
  plane: Plane;
  /** Where it may come to rest. */
  stops: Stop[];
  /** Metres from the plane's point. */
  reach: number;
  rayAt: (event: { clientX: number; clientY: number }) => THREE.Ray | null;
  three: RefObject<RootState | null>;
  controls: RefObject<CameraControls | null>;
  /** `by`: metres since the last time. */
  onMove: (plane: Plane, by: number) => void;
  onDrop: () => void;
};

/** The grip of a plane, dragged along its normal. */
export function PlaneGrip({
  label,
  tone,
  small = false,
  plane,
  stops,
  reach,
  rayAt,
  three,
  controls,
  onMove,
  onDrop,
}: Props) {
  // biome-ignore lint/correctness/useExhaustiveDependencies: another plane, another place
  useEffect(() => three.current?.invalidate(), [plane, three]);
  const alongAt = (event: { clientX: number; clientY: number }, at: Plane) => {
    const ray = rayAt(event);
    return ray
      ? nearestOn(at.point, at.normal, ray.origin.toArray() as V3, ray.direction.toArray() as V3)
      : 0;
  };
  const pixel = () => {
    const state = three.current;
    if (!state) return 0.01;
    const camera = state.camera as THREE.PerspectiveCamera;
    const far = camera.position.distanceTo(new THREE.Vector3(...plane.point));
    return (2 * far * Math.tan((camera.fov * Math.PI) / 360)) / state.size.height;
  };
  const drag = useDrag<{ plane: Plane; along: number }>(controls, {
    begin: (event) => ({ plane, along: alongAt(event, plane) }),
    move: (event, began) => {
      const by = alongAt(event, began.plane) - began.along;
      const at = dot(began.plane.point, began.plane.normal) + by;
      const near = event.shiftKey ? undefined : nearestStop(stops, at, NEAR * pixel());
      useModelBench.getState().set({ says: near?.says ?? "" });
      const to = by + (near ? near.at - at : 0);
      const next = { ...began.plane, point: plus(began.plane.point, began.plane.normal, to) };
      onMove(next, dot(minus(next.point, plane.point), plane.normal));
    },
    end: onDrop,
  });
  return (
    <button
      type="button"
      data-at={plus(plane.point, plane.normal, reach).join(",")}
      className={`btn btn-circle ${small ? "btn-xs" : "btn-sm"} ${tone} pointer-events-auto absolute top-0 left-0 cursor-grab touch-none`}
      aria-label={label}
      title="Drag along the plane's direction; Shift: without stops"
      {...drag}
    >
      ↕
    </button>
  );
}

function nearestStop(stops: Stop[], at: number, within: number): Stop | undefined {
  let best: Stop | undefined;
  for (const stop of stops)
    if (Math.abs(stop.at - at) < Math.min(within, best ? Math.abs(best.at - at) : Number.POSITIVE_INFINITY))
      best = stop;
  return best;
}
