import { expect, test } from "vitest";
import { withFar } from "../src/drawing/moved-along";
import type { Axes, Item, View } from "../src/drawing/screen-form";

const axes = (origin: number[], u = [0, 1, 0]): Axes => ({ origin, u, v: [0, 0, 1], w: [-1, 0, 0] });
const view = (at: Axes, roles: string[], more: Partial<View> = {}): View =>
  ({
    frame: [0, 0, 100, 80],
    scale: 50,
    axes: at,
    leaves: [{ ...at, left: 0 }],
    items: roles.map((role) => ({ role }) as Item),
    ...more,
  }) as View;
const roles = (of: View) => of.items.map((item) => item.role);
const whole = view(axes([4, 1, 0]), [
  "cut fill",
  "hatch",
  "seen far",
  "seen middle",
  "seen near",
  "cut structure",
]);

test("what lay far stays, under what is cut, while a plane goes forwards", () => {
  const moved = withFar(view(axes([4.7, 1.0004, 0]), ["cut fill", "seen near"]), whole);
  expect(roles(moved)).toEqual(["seen far", "seen middle", "cut fill", "seen near"]);
});

test.each<[string, View]>([
  ["moved along itself", view(axes([4, 1.2, 0]), ["cut fill"])],
  ["moved up", view(axes([4, 1, 0.1]), ["cut fill"])],
  ["turned", view(axes([4, 1, 0], [0.6, 0.8, 0]), ["cut fill"])],
  ["at another scale", view(axes([4.7, 1, 0]), ["cut fill"], { scale: 20 })],
  ["with other extents", view(axes([4.7, 1, 0]), ["cut fill"], { frame: [0, 0, 100, 90] })],
  ["with breaks", view(axes([4.7, 1, 0]), ["cut fill"], { folds: [{ u: [], v: [] }] })],
  ["with steps", view(axes([4.7, 1, 0]), ["cut fill"], { leaves: [] })],
])("nothing stays of a cut that is %s", (_, moved) => {
  expect(withFar(moved, whole)).toBe(moved);
});

test("nothing stays where nothing was", () => {
  const moved = view(axes([4.7, 1, 0]), ["cut fill"]);
  expect(withFar(moved, null)).toBe(moved);
});
