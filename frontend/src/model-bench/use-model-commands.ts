import type { CameraControls } from "@react-three/drei";
import type { Project, Solid } from "../api/client";
import { useCommand } from "../shell/commands";
import { turnedIn, useModelBench } from "./bench-state";
import { plus, turned, type V3 } from "./opening";
import { lookFrom, squareOnto, standAt } from "./view-acts";

export const FROM: V3 = [-0.8, -1.2, 0.75]; // where the building is looked at from at first
const STEP = 0.1; // metres by which an arrow key moves a plane

type Bench = {
  project: Project;
  solid: Solid | undefined;
  /** Where something was picked. */
  place: V3 | null;
  view: (act: (controls: CameraControls) => unknown) => unknown;
  draw: (how: { keep?: boolean }) => void;
};

/** What the keys do on the Model bench; the palette and the sheet of shortcuts list it. */
export function useModelCommands({ project, solid, place, view, draw }: Bench) {
  const { plane, cutting, picked, elements, flat, set } = useModelBench();
  const group = "Model";
  const there = plane !== null;
  const lock = (to: "x" | "y" | "z" | "face") => () => set({ lock: to, cutting: true });
  const slide = (by: number) => () =>
    plane && set({ plane: { ...plane, point: plus(plane.point, plane.normal, by) } });
  const turn = (degrees: number) => () => plane && set({ plane: turned(plane, [0, 0, 1], degrees) });
  const back = () => {
    if (cutting) set({ cutting: false });
    else if (picked) set({ picked: null });
    else if (plane) set({ plane: null, says: "" });
    else set({ drawing: null, box: null, others: new Set() });
  };
  useCommand({ name: "Cut at a face", group, keys: "c", run: () => set({ cutting: !cutting }) });
  useCommand({ name: "Cut square to X", group, keys: "x", run: lock("x") });
  useCommand({ name: "Cut square to Y", group, keys: "y", run: lock("y") });
  useCommand({ name: "Cut level", group, keys: "z", run: lock("z") });
  useCommand({ name: "Cut as the face lies", group, keys: "f", run: lock("face") });
  useCommand({ name: "Turn the plane round", group, keys: "r", enabled: there, run: turn(180) });
  useCommand({ name: "Turn the plane by 90°", group, keys: "t", enabled: there, run: turn(90) });
  useCommand({ name: "Move the plane to the viewer", group, keys: "up", enabled: there, run: slide(STEP) });
  useCommand({ name: "Move the plane away", group, keys: "down", enabled: there, run: slide(-STEP) });
  useCommand({ name: "Make the plane a drawing", group, keys: "enter", enabled: there, run: () => draw({}) });
  useCommand({
    name: "Make a drawing and keep the plane",
    group,
    keys: "shift+enter",
    enabled: there,
    run: () => draw({ keep: true }),
  });
  useCommand({
    name: "Look square onto the plane",
    group,
    keys: "q",
    enabled: there,
    run: () => solid && plane && view((c) => squareOnto(c, solid, plane)),
  });
  useCommand({
    name: "All of the model",
    group,
    keys: "home",
    run: () => solid && view((c) => lookFrom(c, solid, FROM)),
  });
  useCommand({ name: "Flat, without perspective", group, keys: "p", run: () => set({ flat: !flat }) });
  useCommand({
    name: "Stand on the floor at what is picked",
    group,
    keys: "s",
    enabled: place !== null,
    run: () => place && view((c) => standAt(c, place, floorBelow(project, place[2]))),
  });
  useCommand({
    name: "Hide what is picked",
    group,
    keys: "shift+h",
    enabled: picked !== null,
    run: () => picked && set({ elements: turnedIn(elements, picked), picked: null }),
  });
  useCommand({ name: "One step back", group, keys: "escape", run: back });
}

function floorBelow(project: Project, z: number): number {
  const floors = project.facts.storeys.map((s) => s.elevation);
  return Math.max(...floors.filter((f) => f <= z + 0.05), Math.min(...floors));
}
