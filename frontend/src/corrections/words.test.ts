import { expect, it } from "vitest";
import type { Correction } from "../api/client";
import { keyOf, saidAnew, what } from "./words";

const SAID = { author: "", reason: "", topic: "", asked: "", answer: null };
const mm = (metres: number) => `${Math.round(metres * 1000)} mm`;
const EACH: [Correction, string][] = [
  [
    {
      ...SAID,
      element: "a",
      build_up: "",
      layers: [{ material: "Cork", thickness: 0.06, is_a: "" }],
      stays: "first",
      instead_of: [],
    },
    "1 layer, 60 mm",
  ],
  [{ ...SAID, elements: ["a"], left_out: true }, "taken out"],
  [
    { ...SAID, elements: ["a"], by: [0.1, 0, -0.2], turn: 30, stood: [] },
    "100 mm along x, -200 mm up, turned by 30°",
  ],
  [{ ...SAID, elements: ["a"], openings: false, copies: [[0, 0, 3]] }, "once more, 3000 mm up"],
  [
    {
      ...SAID,
      elements: ["a"],
      openings: true,
      copies: [
        [0, 0, 3],
        [0, 0, 6],
      ],
    },
    "2 times more",
  ],
  [
    {
      ...SAID,
      element: "a",
      onto: "",
      face: { looks: [0, 0, 1], at: 3 },
      to: { looks: [0, 0, 1], at: 2.95 },
    },
    "top 50 mm inwards",
  ],
  [
    {
      ...SAID,
      element: "a",
      onto: "Roof",
      face: { looks: [1, 0, 0], at: 3 },
      to: { looks: [1, 0, 0], at: 4 },
    },
    "a face led up to Roof",
  ],
  [
    { ...SAID, element: "a", looks: [0, 1, 0], left: -0.1, right: 0, sill: 0, head: 0.2, stood: null },
    "opening: left −100 mm, head +200 mm",
  ],
  [
    {
      ...SAID,
      body: "b",
      name: "Upstand",
      kind: "covering",
      material: "Cork",
      is_a: "",
      outline: [],
      at: [0, 0, 0],
      x: [1, 0, 0],
      y: [0, 0, 1],
      start: -1,
      end: 1,
    },
    "new covering of Cork, 2000 mm long",
  ],
  [
    {
      ...SAID,
      body: "r",
      name: "Drain",
      kind: "object",
      material: "Steel",
      is_a: "",
      path: [
        [0, 0, 0],
        [3, 4, 0],
        [3, 4, -1],
      ],
      wide: 0.1,
      high: 0.1,
      round: true,
    },
    "new object of Steel, along 6000 mm",
  ],
  [
    {
      ...SAID,
      body: "l",
      name: "Insulation",
      kind: "covering",
      material: "Cork",
      is_a: "",
      element: "a",
      on: { looks: [0, 0, -1], at: 3 },
      thickness: 0.08,
    },
    "Cork 80 mm on its underside",
  ],
  [
    { ...SAID, element: "a", risers: 9, going: 0.27, rise: null, other_way: true, had: null },
    "9 risers, going 270 mm, up the other way",
  ],
  [{ ...SAID, elements: ["a"], material: "Larch", is_a: "", in_place_of: "", had: [] }, "of Larch"],
  [
    { ...SAID, elements: ["a"], material: "Larch", is_a: "", in_place_of: "Oak", had: [] },
    "Larch in place of Oak",
  ],
];

it("says each kind of correction in a few words", () => {
  expect(EACH.map(([one]) => what(one, mm))).toEqual(EACH.map(([, words]) => words));
});

it("tells those of one element apart, and what is said anew is of the same", () => {
  expect(new Set(EACH.map(([one]) => keyOf(one))).size).toBe(EACH.length - 1); // two are of its copies
  for (const [one] of EACH) expect(keyOf(saidAnew(one))).toBe(keyOf(one));
});
