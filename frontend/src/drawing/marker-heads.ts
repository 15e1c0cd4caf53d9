/** The forms of heads of markers, in words. */
export const MARKER_HEADS = [
  ["wedge", "disc with a wedge"],
  ["arrow", "disc with an arrow"],
  ["open", "arrow without a disc"],
] as const;
