import { expect, test } from "vitest";
import { newest, newestSheets } from "./newest";

test("a list keeps what is known to be newer, and loses what it does not name", () => {
  const known = [
    { id: 1, version: 7 },
    { id: 2, version: 3 },
    { id: 3, version: 9 },
  ];
  const read = [
    { id: 1, version: 5 },
    { id: 2, version: 4 },
  ];
  expect(newest(known, read)).toEqual([
    { id: 1, version: 7 },
    { id: 2, version: 4 },
  ]);
  expect(newest(undefined, read)).toEqual(read);
  expect(newest(read, structuredClone(read))).toBe(read);
});

test("a sheet that was read before a move keeps what was moved, and what was taken off stays off", () => {
  const at = (id: number, version: number, x: number) => ({ id, version, x });
  const known = [{ id: 1, version: 2, placements: [at(4, 8, 30), at(5, 3, 10)] }];
  const read = [{ id: 1, version: 2, placements: [at(4, 6, 20), at(5, 9, 11)] }];
  expect(newestSheets(known, read)).toEqual([
    { id: 1, version: 2, placements: [at(4, 8, 30), at(5, 9, 11)] },
  ]);
  expect(newestSheets(known, [{ id: 1, version: 2, placements: [] }])).toEqual([
    { id: 1, version: 2, placements: [] },
  ]);
});
