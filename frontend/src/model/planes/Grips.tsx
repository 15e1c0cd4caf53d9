import type { CameraControls } from "@react-three/drei";
import type { RootState } from "@react-three/fiber";
import type { RefObject } from "react";
import type * as THREE from "three";
import type { ExtentsBox, Solid, Stop } from "../../api/client";
import { boxSides, movedSide, sideName } from "../opening/box-geometry";
import { type Plane, turnedRound } from "../opening/opening";
import { sizeOf } from "../opening/plane-geometry";
import { LookButton } from "./LookArrow";
import { PlaneGrip } from "./PlaneGrip";
import { TurnGrip } from "./TurnGrip";

const NONE: Stop[] = [];

/** How far from a plane's point its grips stand, metres. */
export const reachOf = (solid: Solid) => Math.max(0.6, sizeOf(solid) * 0.05);

type Props = {
  plane: Plane | null;
  box: ExtentsBox | null;
  stops: Stop[];
  solid: Solid;
  rayAt: (event: { clientX: number; clientY: number }) => THREE.Ray | null;
  three: RefObject<RootState | null>;
  controls: RefObject<CameraControls | null>;
  onMove: (plane: Plane) => void;
  onDrop: () => void;
  onBox: (box: ExtentsBox | null) => void;
};

/** What is dragged over the picture: the plane along its direction and about, its look, the sides of a box. */
export function Grips({ plane, box, stops, solid, onMove, onDrop, onBox, ...common }: Props) {
  const reach = reachOf(solid);
  return (
    <>
      {box &&
        boxSides(box).map((side) => (
          <PlaneGrip
            key={sideName(side)}
            tone="btn-accent"
            label={`Move the ${sideName(side)} of the box`}
            plane={side.plane}
            stops={NONE}
            reach={reach}
            onMove={(_, by) => onBox(movedSide(box, side, by))}
            onDrop={() => onBox(null)}
            {...common}
          />
        ))}
      {plane && (
        <>
          <PlaneGrip
            tone="btn-primary"
            label="Move the plane"
            plane={plane}
            stops={stops}
            reach={reach}
            onMove={onMove}
            onDrop={onDrop}
            {...common}
          />
          <TurnGrip
            plane={plane}
            reach={reach * 1.6}
            turn={solid.turn}
            rayAt={common.rayAt}
            controls={common.controls}
            onMove={onMove}
            onDrop={onDrop}
          />
          <LookButton plane={plane} length={reach} onTurn={() => onMove(turnedRound(plane))} />
        </>
      )}
    </>
  );
}
