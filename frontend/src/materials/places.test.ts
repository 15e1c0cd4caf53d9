import { expect, it } from "vitest";
import { calledBy, everywhere, placesOf, saidOf, saidOfAll, withSaid } from "./places";

const WALL = { guid: "w", material: "Board", build_up: "Outer wall", layer: 2 };
const EMPTY = { materials: {}, materials_here: [] };

it("offers the narrower places where there are any, and none by a name that the file doesn't give", () => {
  expect(placesOf([WALL]).map((one) => one.where)).toEqual(["everywhere", "build-up", "element"]);
  expect(placesOf([{ ...WALL, build_up: "", layer: null }]).map((one) => one.where)).toEqual([
    "everywhere",
    "element",
  ]);
  expect(placesOf([{ ...WALL, material: "" }]).map((one) => one.where)).toEqual(["element"]);
});

it("keeps one word of each place, classes of everywhere by their names, and takes them back", () => {
  const here = placesOf([WALL])[2]?.said[0] ?? everywhere("");
  let project = withSaid(EMPTY, everywhere("Board"), { is_a: "timber", hatch: "grain" });
  expect(project.materials).toEqual({ Board: "timber" });
  project = withSaid(project, here, { is_a: "brick", hatch: "" });
  project = withSaid(project, here, { is_a: "stone", hatch: "" });
  expect(project.materials_here).toHaveLength(2);
  expect(saidOf(project, everywhere("Board"))).toEqual({ is_a: "timber", hatch: "grain" });
  expect(saidOf(project, here)).toEqual({ is_a: "stone", hatch: "" });
  project = withSaid(withSaid(project, here, null), everywhere("Board"), null);
  expect(project).toEqual(EMPTY);
});

it("says of several at once each of its own, and the same only once", () => {
  const others = [WALL, { ...WALL, guid: "v" }, { ...WALL, guid: "u", material: "Oak" }];
  const places = placesOf(others);
  expect(places.map((one) => one.said.length)).toEqual([2, 2, 3]);
  expect(calledBy(others)).toBe("their 2 materials");
  const all = places[2]?.said ?? [];
  let project = withSaid(EMPTY, all[0] ?? everywhere(""), { is_a: "brick", hatch: "" });
  expect(saidOfAll(project, all)).toBeNull();
  for (const place of all) project = withSaid(project, place, { is_a: "brick", hatch: "" });
  expect(saidOfAll(project, all)).toEqual({ is_a: "brick", hatch: "" });
});
