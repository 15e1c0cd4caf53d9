import { create } from "zustand";
import type { FaceCorrection, FaceHandle, FlatFace } from "../api/client";

/** In the place of a drawing: faces are gripped in the model. */
export const IN_MODEL = 0;

/** Faces of an element that are gripped in a drawing, or the model: whose, where, which one, and how far it is dragged,
 * metres. */
type Holding = {
  of: { element: string; drawing: number } | null;
  face: FaceHandle | FlatFace | null;
  by: number;
  /** Whether what is picked next is what the face is led up to. */
  aiming: boolean;
};

const NOTHING: Holding = { of: null, face: null, by: 0, aiming: false };

/** What of an element is held; its form and its grips stand in different places of the window. */
export const useHolding = create<Holding>(() => NOTHING);

export const letGoOfFaces = () => useHolding.setState(NOTHING);

/** A face pulled out by so much, or led up to a plane. */
export function faceTo(
  element: string,
  { face }: Pick<FaceHandle, "face">,
  to: FaceHandle["face"],
  said: { reason?: string; onto?: string },
): FaceCorrection {
  const { reason = "", onto = "" } = said;
  return { element, face, to, onto, reason, author: "", topic: "", asked: "", answer: null };
}

/** The plane of a face, as it is drawn, moved out by so many metres. */
export const movedOut = ({ drawn }: Pick<FaceHandle, "drawn">, by: number): FaceHandle["face"] => ({
  looks: drawn.looks,
  at: drawn.at + by,
});

/** Whether two planes are one. */
export const samePlane = (a: FaceHandle["face"], b: FaceHandle["face"]): boolean =>
  Math.abs(a.at - b.at) < 1e-3 && a.looks.every((one, k) => Math.abs(one - (b.looks[k] ?? 0)) < 1e-3);

/** Of the faces of something else the one that a face meets first, as it is pulled out; its plane looks as that face. */
export function firstMet(from: FaceHandle, others: readonly FaceHandle[]): FaceHandle["face"] | null {
  const [x, y] = [(from.start[0] + from.end[0]) / 2, (from.start[1] + from.end[1]) / 2];
  const [dx, dy] = from.out;
  let least = Number.POSITIVE_INFINITY;
  let found: FaceHandle | null = null;
  for (const other of others) {
    const [ux, uy] = [other.end[0] - other.start[0], other.end[1] - other.start[1]];
    const across = dx * uy - dy * ux;
    if (Math.abs(across) < 1e-9) continue;
    const [ax, ay] = [other.start[0] - x, other.start[1] - y];
    const far = (ax * uy - ay * ux) / across;
    const share = (ax * dy - ay * dx) / across;
    if (share < -1e-6 || share > 1 + 1e-6 || far < 1e-3 || far >= least) continue;
    [least, found] = [far, other];
  }
  if (!found) return null;
  const { looks, at } = found.drawn;
  const [a, b, c] = looks;
  return { looks: [-a + 0, -b + 0, -c + 0], at: -at + 0 };
}
