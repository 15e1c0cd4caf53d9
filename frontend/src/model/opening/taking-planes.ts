import { dot, plus, unit, type V3 } from "./opening";

/** A plane that takes away what lies on the side to which its normal points. */
type TakingPlane = { point: number[]; normal: number[] };
type Taking = { point: V3; normal: V3 };

const STRAIGHT = 0.999; // of a direction, from which a plane counts as square to an axis
const normalOf = ({ normal }: TakingPlane) => unit(normal as V3);

/** Where a plane lies along its normal, metres. */
export const placeOf = (plane: TakingPlane) => dot(plane.point as V3, normalOf(plane));

/** The plane elsewhere along its normal. */
export function movedTo(plane: TakingPlane, at: number): Taking {
  const point = plus(plane.point as V3, normalOf(plane), at - placeOf(plane));
  return { point, normal: plane.normal as V3 };
}

/** What a plane takes away, in words. */
export function takesWords(plane: TakingPlane): string {
  const [x, y, z] = normalOf(plane);
  if (Math.abs(z) > STRAIGHT) return z > 0 ? "above" : "below";
  if (Math.abs(x) > STRAIGHT) return x > 0 ? "beyond x" : "before x";
  if (Math.abs(y) > STRAIGHT) return y > 0 ? "beyond y" : "before y";
  return "before a plane";
}

/** Which way its numbers grow: those of a plane that looks back along an axis count against it. */
export const alongAxis = (plane: TakingPlane) => (normalOf(plane).some((v) => v < -STRAIGHT) ? -1 : 1);
