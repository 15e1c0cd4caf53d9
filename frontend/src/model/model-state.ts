import { create } from "zustand";
import type { ExtentsBox, Sun } from "../api/client";
import type { Plane } from "./opening/opening";

/** What a plane is square to: its face, an axis of the model, or a direction of the building. */
export type Lock = "face" | "x" | "y" | "z" | "along" | "across";
/** Where a plane cuts by what is pointed at: in its face, through its middle, or in the free space before it. */
export type Offset = "face" | "middle" | "before";
export type Removed = "gone" | "ghost" | "outline";
export type Colours = "kind" | "material";

/** What the drawing that opens the model leaves out is left out. */
export const AS_DRAWN = "as drawn";

type State = {
  /** The plane being looked for; none while a drawing's own cut opens the model. */
  plane: Plane | null;
  /** The drawing whose cut opens the model. */
  drawing: number | null;
  /** Drawings whose cuts open it together with that. */
  others: ReadonlySet<number>;
  /** Words that cuts are found by. */
  find: string;
  /** The cut that is pointed at in the list. */
  pointed: number | null;
  /** The box of shared extents that opens the model, as it is while one of its sides is dragged. */
  box: { id: number; now: ExtentsBox } | null;
  cutting: boolean;
  lock: Lock;
  offset: Offset;
  removed: Removed;
  colours: Colours;
  thickness: number | null;
  storey: string;
  kinds: ReadonlySet<string>;
  elements: ReadonlySet<string>;
  seeThrough: ReadonlySet<string>;
  /** The shown set that is followed (empty: none), or `AS_DRAWN`. */
  shownSet: string;
  /** The standard that gives colours and hatches (empty: that of new drawings). */
  standard: string;
  /** What is hidden shows as a ghost. */
  ghost: boolean;
  /** Where the sun stands that throws shadows here; none without. */
  sun: Sun | null;
  picked: string | null;
  flat: boolean;
  /** Somebody stands in the building and walks. */
  walking: boolean;
  /** The viewpoint that was gone to last. */
  viewpoint: number | null;
  /** What the plane that slides will be when it has arrived: its faces are asked for ahead, and show then. */
  coming: { plane: Plane | null; drawing: number | null } | null;
  /** Viewpoints are shown one after the other, and nothing beside them. */
  presenting: boolean;
  says: string;
  set: (part: Partial<Omit<State, "set">>) => void;
};

const START = {
  plane: null,
  drawing: null,
  others: new Set<number>(),
  find: "",
  pointed: null,
  box: null,
  cutting: false,
  lock: "face" as const,
  offset: "face" as const,
  removed: "gone" as const,
  colours: "material" as const,
  thickness: null,
  storey: "",
  kinds: new Set<string>(),
  elements: new Set<string>(),
  seeThrough: new Set<string>(),
  shownSet: "",
  standard: "",
  ghost: false,
  sun: null,
  picked: null,
  flat: false,
  walking: false,
  viewpoint: null,
  coming: null,
  presenting: false,
  says: "",
};

export const useModelBench = create<State>((set) => ({ ...START, set: (part) => set(part) }));

/** As at first; for another project. */
export const startAnew = () => useModelBench.setState(START);

export function turnedIn<T>(set: ReadonlySet<T>, one: T): ReadonlySet<T> {
  const next = new Set(set);
  if (!next.delete(one)) next.add(one);
  return next;
}
