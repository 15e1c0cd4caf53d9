import type { Extents } from "../api/client";

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
