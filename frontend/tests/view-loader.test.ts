import { expect, test } from "vitest";
import type { View } from "../src/drawing/screen-form";
import { ViewLoader } from "../src/drawing/use-view";
import { chance } from "./chance";

type Body = { cut: string; moving?: boolean };
type Said = { cut: string; whole: boolean };

let made = 0;

/** A loader whose answers say what was asked for; `takes`: ms until one comes. */
function loader(takes: () => number, rest = 3) {
  const name = `loader ${++made}`;
  const shown: Said[] = [];
  const asked: Said[] = [];
  let [under, most, busy] = [0, 0, false];
  const fetched = async (url: string, body?: unknown, signal?: AbortSignal) => {
    const { cut, moving } = (body as Body | undefined) ?? { cut: url, moving: false };
    const said = { cut, whole: !moving };
    asked.push(said);
    most = Math.max(most, ++under);
    await new Promise((done) => setTimeout(done, takes()));
    under -= 1;
    if (signal?.aborted) throw new DOMException("", "AbortError");
    return [said.whole ? `${name} ${cut}` : "", said as unknown as View] as [string, View];
  };
  const panes = new ViewLoader(
    (part) => {
      if (part.view) shown.push(part.view as unknown as Said);
      if (part.busy !== undefined) busy = part.busy;
    },
    fetched as never,
    rest,
  );
  return {
    shown,
    asked,
    most: () => most,
    moved: (cut: string) => panes.request({ url: "", cut, body: { cut } as never }),
    saved: (cut: string) => panes.request({ key: `${name} ${cut}`, url: cut, cut }),
    settled: async () => {
      do await new Promise((done) => setTimeout(done, 10));
      while (busy);
    },
  };
}

test("a cut that is moved shows at once what a hand needs, and whole when it rests", async () => {
  const { moved, saved, settled, shown } = loader(() => 1);
  saved("a");
  await settled();
  moved("b");
  await settled();
  expect(shown).toEqual([
    { cut: "a", whole: true },
    { cut: "b", whole: false },
    { cut: "b", whole: true },
  ]);
});

test("what changes in how a drawing looks alone comes whole", async () => {
  const { moved, saved, settled, asked } = loader(() => 1);
  saved("a");
  moved("a");
  await settled();
  expect(asked.every((one) => one.whole)).toBe(true);
});

test("a whole drawing on its way keeps no newer place waiting", async () => {
  let [count, slow] = [0, true];
  const { moved, saved, settled, shown } = loader(() => (++count === 3 && slow ? 60 : 1), 1);
  saved("a");
  await settled();
  moved("b");
  await new Promise((done) => setTimeout(done, 30)); // the whole of b is under way
  slow = false;
  moved("c");
  await settled();
  expect(shown).not.toContainEqual({ cut: "b", whole: true });
  expect(shown.at(-1)).toEqual({ cut: "c", whole: true });
});

test.each([
  ["as it moves", 1, 30],
  ["as it rests", 30, 1],
])("what is known takes the place of what is moved, %s", async (_, rest, slow) => {
  let count = 0;
  const { moved, saved, settled, shown } = loader(() => (++count === 2 ? slow : 1), rest);
  saved("a");
  await settled();
  moved("b");
  await new Promise((done) => setTimeout(done, 8));
  saved("a"); // as when the move is undone
  await settled();
  await new Promise((done) => setTimeout(done, 60));
  expect(shown.at(-1)).toEqual({ cut: "a", whole: true });
});

test("in whatever order things are asked for, the last of them stands there whole", async () => {
  const { one, within } = chance(20261129);
  await Promise.all(
    Array.from({ length: 60 }, async () => {
      const { moved, saved, settled, shown, most } = loader(() => within(0, 6), within(0, 6));
      let last = "";
      for (let k = 0; k < 12; k++) {
        last = one(["a", "b", "c", "d"]);
        one([moved, moved, saved])(last);
        if (within(0, 1) < 0.5) await new Promise((done) => setTimeout(done, within(0, 12)));
      }
      await settled();
      expect(shown.at(-1)).toEqual({ cut: last, whole: true });
      expect(most()).toBe(1);
    }),
  );
});
