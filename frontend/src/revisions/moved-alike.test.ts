import { expect, test } from "vitest";
import type { Unsettled } from "../api/client";
import { accepting, movedTogether, whereMost } from "./moved-alike";

const one = (id: number, more: Partial<Unsettled>): Unsettled => ({
  what: "annotation",
  id,
  drawing_id: 1,
  drawing: "Plan",
  said: "note",
  state: "near",
  reason: "",
  version: 1,
  box: null,
  can_guess: false,
  moved: null,
  ...more,
});

test("only what moved alike, and is not lost, is settled together", () => {
  const east: [number, number, number] = [300, 0, 0];
  const found = movedTogether([
    one(1, { moved: east }),
    one(2, { moved: east, what: "touch-up" }),
    one(3, { moved: [0, 0, 40] }),
    one(4, { moved: east, state: "lost" }),
    one(5, {}),
  ]);
  expect(found.map((t) => t.of.map((a) => a.id))).toEqual([[1, 2]]);
  expect(accepting(found[0]?.of ?? [])).toEqual({
    annotations: [1],
    touch_ups: [2],
    callouts: [],
    how: "accept",
  });
});

test("the picture is of where most of them are", () => {
  const box = (k: number): [number, number, number, number] => [k, k, k + 1, k + 1];
  const of = [
    one(1, { drawing_id: 7, box: box(0) }),
    one(2, { box: box(0) }),
    one(3, { box: box(5) }),
    one(4, {}),
  ];
  expect(whereMost(of)).toEqual({ drawing: 1, box: [0, 0, 6, 6] });
  expect(whereMost([one(4, {})])).toEqual({ drawing: 1, box: null });
});
