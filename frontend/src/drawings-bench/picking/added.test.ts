import { expect, it } from "vitest";
import type { Element } from "../../api/client";
import { added } from "./added";

const [a, b, c] = ["a", "b", "c"].map((guid) => ({ guid }) as Element) as [Element, Element, Element];
const guids = (picked: ReturnType<typeof added>) => picked?.found.map((e) => e.guid).join("") ?? "";

it("adds one by one, lets go what is picked again, and adds boxes", () => {
  const one = added(null, 1, [a, b], { box: false, more: true });
  expect([guids(one), one?.many]).toEqual(["ab", false]); // what lies behind can be gone to
  const two = added(one, 1, [b], { box: false, more: true });
  expect([guids(two), two?.many]).toEqual(["ab", true]);
  expect(guids(added(two, 1, [a], { box: false, more: true }))).toBe("b");
  expect(guids(added(two, 1, [b, c], { box: true, more: true }))).toBe("abc");
  expect(guids(added(two, 1, [], { box: true, more: true }))).toBe("ab");
  expect(added(one, 1, [a], { box: false, more: true })).toBeNull();
});

it("begins anew without Shift and in another drawing", () => {
  const one = added(null, 1, [a], { box: false, more: false });
  expect(guids(added(one, 1, [b], { box: false, more: false }))).toBe("b");
  expect(guids(added(one, 2, [b], { box: false, more: true }))).toBe("b");
  expect(added(one, 1, [], { box: true, more: false })).toBeNull();
});
