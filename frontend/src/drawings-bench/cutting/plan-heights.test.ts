import { expect, it } from "vitest";
import type { Drawing, PlanCut } from "../../api/client";
import { heightsOf, movedTo } from "./plan-heights";

const STOREYS = [
  { guid: "L", name: "Lower", elevation: 0.3 },
  { guid: "U", name: "Upper", elevation: 3.6 },
] as Parameters<typeof heightsOf>[1];
const plan = (id: number, storey: string, height: number, callout: unknown = null) =>
  ({ id, title: `Plan ${id}`, callout, cut: { kind: "plan", storey, height } }) as unknown as Drawing;

it("plans cut over their floors, those of one height beside each other", () => {
  const found = heightsOf(
    [plan(1, "L", 1.2), plan(2, "U", 1), plan(3, "L", 1.2), plan(4, "gone", 1), plan(5, "L", 1.2, {})],
    STOREYS,
    (d) => (d.id === 2 ? ({ ...d.cut, height: 1.5 } as typeof d.cut) : d.cut),
  );
  expect(found.map((f) => [f.plan.id, f.at, f.beside])).toEqual([
    [1, 1.5, 0],
    [2, 5.1, 0],
    [3, 1.5, 1],
  ]);
});

it("a height moves in steps, finely where that is asked for, and stays over its floor", () => {
  const [over, cut] = [STOREYS[0] as (typeof STOREYS)[number], plan(1, "L", 1.2).cut as PlanCut];
  expect(movedTo(cut, over, 1.938, false)?.height).toBe(1.65);
  expect(movedTo(cut, over, 1.9381, true)?.height).toBe(1.638);
  expect(movedTo(cut, over, 0.31, false)).toBeNull();
});
