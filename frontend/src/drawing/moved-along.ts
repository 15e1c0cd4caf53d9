import type { Axes, View } from "./screen-form";

const FAR = new Set(["seen middle", "seen far", "hidden"]);
// ends of lines are rounded to a millimetre while they are dragged: metres, shares of directions, mm on paper
const [NEAR, STRAIGHT, FRAME] = [0.002, 3e-4, 0.2];

const across = (a: Axes, b: Axes, along: "u" | "v") =>
  Math.abs(b.origin.reduce((sum, o, k) => sum + (o - (a.origin[k] ?? 0)) * (a[along][k] ?? 0), 0));
const parallel = (a: Axes, b: Axes) =>
  (["u", "v"] as const).every((d) => a[d].every((x, k) => Math.abs(x - (b[d][k] ?? 0)) < STRAIGHT));

/** A drawing that is being moved, with what lay far in the one before where the cut only went forwards or backwards:
 * what is seen square to a plane stays in its place in the drawing. Until it rests that is nearly what is seen. */
export function withFar(view: View, before: View | null): View {
  const [a, b] = [before?.axes, view.axes];
  if (!before || !a || !b || before.leaves.length !== 1 || view.leaves.length !== 1) return view;
  const same =
    before.scale === view.scale && before.frame.every((x, k) => Math.abs(x - (view.frame[k] ?? 0)) < FRAME);
  if (!same || view.folds || before.folds || !parallel(a, b)) return view;
  if (across(a, b, "u") > NEAR || across(a, b, "v") > NEAR) return view;
  return { ...view, items: [...before.items.filter((item) => FAR.has(item.role)), ...view.items] };
}
