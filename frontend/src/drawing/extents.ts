import type { Cut, Extents } from "../api/client";

/** Every side as far as the cutting line or the building goes. */
export const OPEN_EXTENTS: Extents = {
  left: null,
  right: null,
  base: null,
  top: null,
  polygon: [],
  breaks: [],
  broken: [],
  whole_edges: false,
};

/** A cut with some of its extents changed. */
export const withExtents = <C extends Cut>(cut: C, change: Partial<Extents>): C => ({
  ...cut,
  extents: { ...OPEN_EXTENTS, ...cut.extents, ...change },
});
