import { expect, test } from "vitest";
import type { ExtentsBox, Solid } from "../src/api/client";
import { boxSides, boxTakings, movedSide, sideName, sidePolygon } from "../src/model/opening/box-geometry";
import {
  axesOf,
  dot,
  ENDLESS,
  isTaken,
  minus,
  openingsOf,
  type Plane,
  plus,
  takingOf,
  turned,
  unit,
  type V3,
} from "../src/model/opening/opening";
import { cornersOf, lockOf, nearestOn, planeThrough, squared } from "../src/model/opening/plane-geometry";
import { alongAxis, movedTo, placeOf, takesWords } from "../src/model/opening/taking-planes";
import { chance } from "./chance";

const solid = { low: [0, 0, 0], high: [10, 6, 4], turn: 23 } as unknown as Solid;
const { within } = chance(19);
const direction = (): V3 => unit([within(-1, 1), within(-1, 1), within(-1, 1)]);
const place = (): V3 => [within(-2, 12), within(-2, 8), within(-2, 6)];

test("axes of a plane are square to each other and right-handed, up as far as up lies in them", () => {
  for (let k = 0; k < 200; k++) {
    const normal = k === 0 ? ([0, 0, 1] as V3) : direction();
    const { u, v, w } = axesOf({ point: [0, 0, 0], normal });
    for (const [a, b] of [
      [u, v],
      [v, w],
      [w, u],
    ] as [V3, V3][])
      expect(dot(a, b)).toBeCloseTo(0, 9);
    expect(dot(w, normal)).toBeCloseTo(-1, 9);
    expect(u[2]).toBeCloseTo(0, 9);
    expect(v[2]).toBeGreaterThanOrEqual(-1e-9);
  }
});

test("a plane takes away what lies on the viewer's side, a slice what lies behind it too", () => {
  for (let k = 0; k < 300; k++) {
    const plane: Plane = { point: place(), normal: direction() };
    const at = place();
    const before = dot(minus(at, plane.point), plane.normal);
    if (Math.abs(before) < 1e-3 || Math.abs(before + 1) < 1e-3) continue;
    expect(isTaken([[takingOf(plane, null)]], at)).toBe(before > 0);
    expect(isTaken([[takingOf(plane, 1)]], at)).toBe(before > 0 || before < -1);
  }
});

test("several cuts take away only what lies before all of them", () => {
  const [x, y] = [
    [1, 0, 0],
    [0, 1, 0],
  ].map((normal) => [takingOf({ point: [5, 3, 2], normal: normal as V3 }, null)]);
  if (!x || !y) throw new Error("two cuts");
  expect(isTaken([x, y], [7, 5, 1])).toBe(true);
  expect(isTaken([x, y], [7, 1, 1])).toBe(false);
  expect(isTaken([], [7, 5, 1])).toBe(false);
});

test("the corners of a plane hold the whole building", () => {
  for (let k = 0; k < 100; k++) {
    const plane: Plane = { point: place(), normal: direction() };
    const [a, b, , d] = cornersOf(plane, solid) as [V3, V3, V3, V3];
    const [wide, high] = [minus(b, a), minus(d, a)];
    const corner: V3 = [k % 2 ? 10 : 0, k % 3 ? 6 : 0, k % 5 ? 4 : 0];
    const from = minus(corner, a);
    for (const side of [wide, high]) {
      const share = dot(from, side) / dot(side, side);
      expect(share).toBeGreaterThan(0);
      expect(share).toBeLessThan(1);
    }
    for (const c of [a, b, d]) expect(dot(minus(c, plane.point), plane.normal)).toBeCloseTo(0, 9);
  }
});

test("a turned plane keeps its point, and comes back after a whole turn", () => {
  const plane: Plane = { point: [1, 2, 3], normal: [1, 0, 0] };
  const quarter = turned(plane, [0, 0, 1], 90);
  expect(quarter.point).toEqual([1, 2, 3]);
  expect(quarter.normal[1]).toBeCloseTo(1, 12);
  const back = [90, 90, 90].reduce((p, by) => turned(p, [0, 0, 1], by), quarter);
  expect(back.normal[0]).toBeCloseTo(1, 9);
});

test("a lock holds a plane square to the building, seen from the viewer's side", () => {
  for (const lock of ["x", "y", "z", "along", "across"] as const) {
    const towards = direction();
    const plane = planeThrough([1, 1, 1], [0, 0, 1], lock, towards, 23);
    expect(lockOf(plane, 23)).toBe(lock);
    expect(dot(plane.normal, towards)).toBeGreaterThanOrEqual(0);
    expect(dot(squared({ ...plane, normal: direction() }, lock, 23).normal, plane.normal) ** 2).toBeCloseTo(
      1,
      9,
    );
  }
  expect(lockOf({ point: [0, 0, 0], normal: unit([1, 1, 1]) }, 23)).toBe("face");
});

test("where a line comes nearest to a ray, no other place is nearer", () => {
  for (let k = 0; k < 200; k++) {
    const [point, along, origin, ray] = [place(), direction(), place(), direction()];
    const away = (t: number) => {
      const from = minus(plus(point, along, t), origin);
      return Math.hypot(...minus(from, plus([0, 0, 0], ray, dot(from, ray))));
    };
    const at = nearestOn(point, along, origin, ray);
    for (const by of [-0.1, 0.1]) expect(away(at)).toBeLessThanOrEqual(away(at + by) + 1e-9);
  }
});

test("a box takes away all that is outside of it, and each side moves alone", () => {
  const box = { low: [0, 0, 0], high: [4, 3, 2], turn: 30 } as unknown as ExtentsBox;
  const takings = boxTakings(box);
  const [c, s] = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6)];
  for (let k = 0; k < 300; k++) {
    const local: V3 = [within(-2, 6), within(-2, 5), within(-2, 4)];
    const at: V3 = [local[0] * c - local[1] * s, local[0] * s + local[1] * c, local[2]];
    const within_ = [4, 3, 2].every((high, n) => (local[n] as number) > 0 && (local[n] as number) < high);
    expect(isTaken([takings], at)).toBe(!within_);
  }
  const sides = boxSides(box);
  expect(sides.map(sideName)).toEqual(["left", "right", "front", "back", "base", "top"]);
  for (const side of sides) {
    const moved = movedSide(box, side, 0.5);
    const grown = (moved.high[side.axis] as number) - (moved.low[side.axis] as number);
    expect(grown).toBeCloseTo((box.high[side.axis] as number) - (box.low[side.axis] as number) + 0.5, 9);
    expect(movedSide(box, side, -99).high[side.axis]).toBeGreaterThan(
      movedSide(box, side, -99).low[side.axis] as number,
    );
    const [area] = [shoelace(sidePolygon(side))];
    const others = [0, 1, 2]
      .filter((n) => n !== side.axis)
      .map((n) => (box.high[n] as number) - (box.low[n] as number));
    expect(Math.abs(area)).toBeCloseTo((others[0] as number) * (others[1] as number), 9);
  }
});

const shoelace = (ring: [number, number][]) =>
  ring.reduce((sum, [x, y], k) => {
    const [px, py] = ring.at(k - 1) as [number, number];
    return sum + (px * y - x * py) / 2;
  }, 0);

test("what a drawing takes away is what the model is opened by", () => {
  for (let k = 0; k < 60; k++) {
    const cuts = [1, 2].map(() => {
      const { u, w } = axesOf({ point: [0, 0, 0], normal: direction() });
      const middle = within(-1, 1);
      const leaf = (left: number, right: number) => ({ origin: place(), u, w, left, right, far: ENDLESS });
      return [leaf(-ENDLESS, middle), leaf(middle, ENDLESS)];
    });
    const opening = k % 3 ? cuts : [[takingOf({ point: place(), normal: direction() }, 1.5)]];
    const spaces = openingsOf(opening);
    for (let n = 0; n < 40; n++) {
      const at = place();
      const taken = spaces.some(({ planes }) =>
        planes.every(({ point, normal }) => dot(minus(at, point), normal) > 0),
      );
      expect(taken).toBe(isTaken(opening, at));
    }
  }
  expect(openingsOf([])).toEqual([]);
});

test("a plane that takes something away is moved by the number of its axis", () => {
  const back = { point: [4, 1, 2], normal: [-2, 0, 0] };
  expect(takesWords(back)).toBe("before x");
  expect(placeOf(back) * alongAxis(back)).toBeCloseTo(4);
  expect(movedTo(back, 6 * alongAxis(back)).point).toEqual([6, 1, 2]);
  expect(takesWords({ point: [0, 0, 0], normal: [0, 0, 1] })).toBe("above");
  expect(takesWords({ point: [0, 0, 0], normal: [1, 1, 0] })).toBe("before a plane");
});
