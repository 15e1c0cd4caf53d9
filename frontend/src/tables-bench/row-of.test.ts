import { expect, test } from "vitest";
import { rowOf } from "./row-of";

test.each([
  ["element:0aB:c", { element: "0aB:c", buildUp: "" }],
  ["layer:Wall: outer, 1:2:3", { element: "", buildUp: "Wall: outer, 1:2" }],
  ["sheet:4", { element: "", buildUp: "" }],
  ["", { element: "", buildUp: "" }],
])("%s", (target, found) => expect(rowOf(target)).toEqual(found));
