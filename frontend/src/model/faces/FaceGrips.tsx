import type { CameraControls } from "@react-three/drei";
import type { RootState } from "@react-three/fiber";
import type { RefObject } from "react";
import type * as THREE from "three";
import type { FlatFace, Stop } from "../../api/client";
import { dot, minus, type Plane, plus, type V3 } from "../opening/opening";
import { PlaneGrip } from "../planes/PlaneGrip";

/** Faces of an element that are pushed and pulled. */
export type HeldFaces = {
  faces: FlatFace[];
  /** Which of them is in hand, and how far it is dragged, metres. */
  held: FlatFace | null;
  by: number;
  /** Where it may come to rest. */
  stops: Stop[];
  onMove: (face: FlatFace, by: number) => void;
  onDrop: (face: FlatFace) => void;
};

type Props = HeldFaces & {
  rayAt: (event: { clientX: number; clientY: number }) => THREE.Ray | null;
  three: RefObject<RootState | null>;
  controls: RefObject<CameraControls | null>;
};

const NONE: Stop[] = [];
const OUT = 0.15; // metres that a grip stands before its face
const WAYS = ["top", "underside", "side"] as const;

/** A grip before the middle of each face, dragged square to it. */
export function FaceGrips({ faces, held, by, stops, onMove, onDrop, ...common }: Props) {
  return faces.map((face) => {
    const mine = held === face;
    const normal = face.drawn.looks as V3;
    const middle = face.middle as V3;
    const plane: Plane = { point: plus(middle, normal, mine ? by : 0), normal };
    return (
      <PlaneGrip
        key={`${face.face.looks.join()} ${face.face.at} ${face.middle.join()}`}
        small
        tone={mine ? "btn-primary" : "btn-accent"}
        label={`Face at the ${sideOf(normal)}, ${face.middle.map((x) => x.toFixed(2)).join(", ")}`}
        plane={plane}
        stops={mine ? stops : NONE}
        reach={OUT}
        onMove={(to) => onMove(face, dot(minus(to.point, middle), normal))}
        onDrop={() => onDrop(face)}
        {...common}
      />
    );
  });
}

const sideOf = ([, , z]: V3) => WAYS[z > 0.7 ? 0 : z < -0.7 ? 1 : 2];
