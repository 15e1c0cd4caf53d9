import type { Seen, SharedExtents } from "../../api/client";
import type { useModelBench } from "../model-state";
import type { V3 } from "../opening/opening";

type State = ReturnType<typeof useModelBench.getState>;
/** Where the eye is and what it looks at, as with perspective. */
export type Eye = { at: V3; to: V3 };

/** All of a view that a viewpoint keeps. */
export function seenNow(state: State, eye: Eye, says = ""): Seen {
  const { plane, thickness, drawing, others, box } = state;
  return {
    eye: { ...eye, flat: state.flat },
    opened: {
      plane: box ? null : plane,
      thickness: plane && !box ? thickness : null,
      drawing: plane || box ? null : drawing,
      others: box ? [] : [...others],
      box: box?.id ?? null,
    },
    looks: {
      without: [...state.kinds].sort(),
      left_out: [...state.elements].sort(),
      see_through_kinds: [...state.seeThrough].sort(),
      storey: state.storey,
      shown_set: state.shownSet,
      standard: state.standard,
      colours: state.colours,
      removed: state.removed,
      ghost: state.ghost,
      sun: state.sun,
    },
    says,
  };
}

/** How the model shows by a viewpoint, but for what opens it. */
export function looksOf({ looks, eye }: Seen): Partial<State> {
  return {
    kinds: new Set(looks.without),
    elements: new Set(looks.left_out),
    seeThrough: new Set(looks.see_through_kinds),
    storey: looks.storey,
    shownSet: looks.shown_set,
    standard: looks.standard,
    colours: looks.colours,
    removed: looks.removed,
    ghost: looks.ghost,
    sun: looks.sun,
    flat: eye.flat,
    walking: false,
    cutting: false,
    picked: null,
    says: "",
  };
}

/** Of a part of the state what differs from it: the same things again would be painted anew. */
export function differing(state: State, part: Partial<State>): Partial<State> {
  const said = (value: unknown) => JSON.stringify(value instanceof Set ? [...value].sort() : value);
  const keys = (Object.keys(part) as (keyof State)[]).filter((key) => said(part[key]) !== said(state[key]));
  return Object.fromEntries(keys.map((key) => [key, part[key]]));
}

/** What opens the model by a viewpoint; drawings and boxes that are gone open nothing. */
export function openedBy({ opened }: Seen, drawings: ReadonlySet<number>, boxes: SharedExtents[]) {
  const box = boxes.find((one) => one.id === opened.box);
  const there = opened.drawing !== null && drawings.has(opened.drawing);
  return {
    plane: opened.plane,
    thickness: opened.thickness,
    drawing: there ? opened.drawing : null,
    others: new Set(opened.others.filter((id) => drawings.has(id))),
    box: box ? { id: box.id, now: box.box } : null,
  };
}
