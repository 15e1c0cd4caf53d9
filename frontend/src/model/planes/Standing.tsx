import { useMemo } from "react";
import type { DrawingPlanes, ExtentsBox, Leaf, Solid } from "../../api/client";
import { boxSides } from "../opening/box-geometry";
import { type Plane, plus, type V3 } from "../opening/opening";
import { cornersOf, leafCorners } from "../opening/plane-geometry";
import { Band, Frames, PlaneLines } from "./PlaneLines";

export const CUT = "#b7341b";
const [DEPTH, EXTENTS] = ["#115a66", "#8a5a00"];

type SavedProps = {
  planes: DrawingPlanes[];
  chosen: number | null;
  pointed: number | null;
  /** A plane is looked for: that opens the model, not the drawing. */
  sought: boolean;
};

export function SliceBand({ plane, solid, thickness }: { plane: Plane; solid: Solid; thickness: number }) {
  const near = useMemo(() => cornersOf(plane, solid), [plane, solid]);
  const far = useMemo(() => cornersOf(plane, solid, -thickness), [plane, solid, thickness]);
  return <Band near={near} far={far} colour={DEPTH} />;
}

/** How far the drawing that opens the model looks, where it has a depth. */
function DepthBands({ leaves }: { leaves: Leaf[] }) {
  return leaves.map((leaf, k) => {
    const near = leafCorners(leaf);
    const { depth, w } = leaf;
    if (depth === null) return null;
    // biome-ignore lint/suspicious/noArrayIndexKey: planes of a drawing stand in their order
    return <Band key={k} near={near} far={near.map((c) => plus(c, w as V3, depth))} colour={DEPTH} />;
  });
}

/** The planes of drawings, dim but for the one that opens the model and the one that is pointed at in the list. */
export function SavedPlanes({ planes, chosen, pointed, sought }: SavedProps) {
  const [lit, dim] = useMemo(() => {
    const of = (isLit: boolean) =>
      planes
        .filter((p) => (p.drawing === chosen || p.drawing === pointed) === isLit)
        .flatMap((p) => p.leaves.map(leafCorners));
    return [of(true), of(false)];
  }, [planes, chosen, pointed]);
  const opening = useMemo(() => planes.find((p) => p.drawing === chosen)?.leaves ?? [], [planes, chosen]);
  return (
    <>
      <Frames frames={dim} colour={CUT} faint />
      <Frames frames={lit} colour={CUT} faint={false} />
      {!sought && <DepthBands leaves={opening} />}
    </>
  );
}

export function Boxes({ boxes, chosen }: { boxes: ExtentsBox[]; chosen: ExtentsBox | null }) {
  const [lit, dim] = useMemo(() => {
    const of = (isLit: boolean) =>
      boxes.filter((b) => (b === chosen) === isLit).flatMap((b) => boxSides(b).map((s) => s.corners));
    return [of(true), of(false)];
  }, [boxes, chosen]);
  return (
    <>
      <Frames frames={dim} colour={EXTENTS} faint />
      <Frames frames={lit} colour={EXTENTS} faint={false} />
    </>
  );
}

type FramedProps = {
  plane: Plane;
  solid: Solid;
  colour: string;
  filled?: boolean;
  faint?: boolean;
};

export function Framed(props: FramedProps) {
  const { plane, solid, ...look } = props;
  const corners = useMemo(() => cornersOf(plane, solid), [plane, solid]);
  return <PlaneLines corners={corners} {...look} />;
}
