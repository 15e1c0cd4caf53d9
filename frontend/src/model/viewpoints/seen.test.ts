import { expect, it } from "vitest";
import { useModelBench } from "../model-state";
import { differing, looksOf, openedBy, seenNow } from "./seen";

it("a view is the same again by what a viewpoint keeps of it", () => {
  const { set, getState } = { set: useModelBench.getState().set, getState: useModelBench.getState };
  set({
    plane: { point: [1, 2, 3], normal: [0, 0, 1] }, thickness: 2, kinds: new Set(["slab", "roof"]),
    elements: new Set(["0abc"]), removed: "ghost", colours: "kind", storey: "S1", flat: true, ghost: true,
    others: new Set([4]),
  }); // biome-ignore format: as a table
  const before = getState();
  const seen = seenNow(before, { at: [9, 9, 9], to: [0, 0, 0] }, "Here one comes in");
  useModelBench.setState({ plane: null, kinds: new Set(), others: new Set(), removed: "gone", flat: false });
  set({ ...looksOf(seen), ...openedBy(seen, new Set([4]), []) });
  for (const key of [
    "plane",
    "thickness",
    "kinds",
    "elements",
    "removed",
    "storey",
    "flat",
    "others",
  ] as const)
    expect(getState()[key]).toEqual(before[key]);
});

it("what is the same stays the same thing", () => {
  const state = { ...useModelBench.getState(), kinds: new Set(["roof", "slab"]), storey: "S1" };
  const part = { kinds: new Set(["slab", "roof"]), storey: "S2", ghost: state.ghost };
  expect(differing(state, part)).toEqual({ storey: "S2" });
});

it("drawings and boxes that are gone open nothing", () => {
  const seen = seenNow(
    { ...useModelBench.getState(), plane: null, drawing: 7, others: new Set([8, 9]), box: null },
    { at: [9, 9, 9], to: [0, 0, 0] },
  );
  expect(openedBy(seen, new Set([8]), [])).toEqual({
    plane: null,
    thickness: null,
    drawing: null,
    others: new Set([8]),
    box: null,
  });
});
