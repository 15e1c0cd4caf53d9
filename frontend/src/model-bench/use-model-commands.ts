import type { CameraControls } from "@react-three/drei";
import type { Project, Solid } from "../api/client";
import { useCommand } from "../shell/commands";
import { type Lock, turnedIn, useModelBench } from "./bench-state";
import { axesOf, plus, turned, type V3 } from "./opening";
import type { Hit } from "./picking";
import { isTurned } from "./plane-geometry";
import { levelAt } from "./storeys";
import { leave, lookFrom, squareOnto, standAt, turnHead, walk } from "./view-acts";

export const FROM: V3 = [-0.8, -1.2, 0.75]; // where the building is looked at from at first
const STEP = 0.1; // metres by which an arrow key moves a plane
const PACE = 0.5; // metres by which an arrow key walks on
const GLANCE = 10; // degrees by which an arrow key turns the head
const GROUP = "Model";

type View = (act: (controls: CameraControls) => unknown) => unknown;
type Bench = {
  project: Project;
  solid: Solid | undefined;
  /** What is picked. */
  hit: Hit | undefined;
  /** Look from elsewhere. */
  view: View;
  /** Look on where one stands, or begin or end to stand. */
  stay: View;
  draw: (how: { keep?: boolean }) => void;
  /** A plane square to the view. */
  faceView: () => unknown;
  /** Come near to what is picked. */
  near: () => void;
  /** Pick what lies behind it; nothing does where there is none. */
  next: (() => void) | undefined;
};

/** What the keys do on the Model bench; the palette and the sheet of shortcuts list it. */
export function useModelCommands(bench: Bench) {
  useCuttingCommands(bench);
  usePlaneCommands(bench);
  useViewCommands(bench);
  useWalkingCommands(bench);
}

function useCuttingCommands({ solid }: Bench) {
  const { cutting, lock, set } = useModelBench();
  const lockTo = (to: Lock) => () => set({ lock: to, cutting: true });
  const command = (name: string, keys: string, run: () => void, enabled = true) => ({
    name,
    group: GROUP,
    keys,
    run,
    enabled,
  });
  useCommand(command("Cut at a face", "c", () => set({ cutting: !cutting })));
  useCommand(command("Cut square to X", "x", lockTo("x")));
  useCommand(command("Cut square to Y", "y", lockTo("y")));
  useCommand(command("Cut level", "z", lockTo("z")));
  useCommand(command("Cut as the face lies", "f", lockTo("face")));
  useCommand(
    command(
      "Cut square to the building's length, or its width",
      "b",
      lockTo(lock === "along" ? "across" : "along"),
      solid !== undefined && isTurned(solid),
    ),
  );
  useCommand(command("Cut in the face", "1", () => set({ offset: "face" }), cutting));
  useCommand(command("Cut through the middle", "2", () => set({ offset: "middle" }), cutting));
  useCommand(command("Cut in the free space before it", "3", () => set({ offset: "before" }), cutting));
}

function usePlaneCommands({ solid, view, draw, faceView }: Bench) {
  const { plane, walking, set } = useModelBench();
  const there = plane !== null;
  const slide = (by: number) => () =>
    plane && set({ plane: { ...plane, point: plus(plane.point, plane.normal, by) } });
  const turn = (degrees: number, about?: V3) => () =>
    plane && set({ plane: turned(plane, about ?? axesOf(plane).v, degrees) });
  const command = (name: string, keys: string, run: () => unknown, enabled = there) => ({
    name,
    group: GROUP,
    keys,
    run,
    enabled,
  });
  useCommand(command("Turn the plane round", "r", turn(180)));
  useCommand(command("A plane square to the view", "v", faceView, solid !== undefined));
  useCommand(command("Turn the plane by 90°", "t", turn(90, [0, 0, 1])));
  useCommand(command("Move the plane to the viewer", "up", slide(STEP), there && !walking));
  useCommand(command("Move the plane away", "down", slide(-STEP), there && !walking));
  useCommand(command("Make the plane a drawing", "enter", () => draw({})));
  useCommand(command("Make a drawing and keep the plane", "shift+enter", () => draw({ keep: true })));
  useCommand(
    command(
      "Look square onto the plane",
      "q",
      () => solid && plane && view((c) => squareOnto(c, solid, plane)),
    ),
  );
}

function useViewCommands({ solid, view, stay, near, next }: Bench) {
  const { plane, cutting, walking, picked, elements, flat, set } = useModelBench();
  const leaveFloor = () => {
    set({ walking: false });
    stay(leave);
  };
  const back = () => {
    if (cutting) set({ cutting: false });
    else if (walking) leaveFloor();
    else if (picked) set({ picked: null });
    else if (plane) set({ plane: null, says: "" });
    else set({ drawing: null, box: null, others: new Set() });
  };
  useCommand({
    name: "All of the model",
    group: GROUP,
    keys: "home",
    run: () => solid && view((c) => lookFrom(c, solid, FROM)),
  });
  useCommand({
    name: "Flat, without perspective",
    group: GROUP,
    keys: "p",
    enabled: !walking,
    run: () => set({ flat: !flat }),
  });
  useCommand({
    name: "Hide what is picked",
    group: GROUP,
    keys: "shift+h",
    enabled: picked !== null,
    run: () => picked && set({ elements: turnedIn(elements, picked), picked: null }),
  });
  useCommand({
    name: "Come near to what is picked",
    group: GROUP,
    keys: "shift+z",
    enabled: picked !== null,
    run: near,
  });
  useCommand({
    name: "Pick what lies behind",
    group: GROUP,
    keys: "tab",
    enabled: next !== undefined,
    run: () => next?.(),
  });
  useCommand({ name: "One step back", group: GROUP, keys: "escape", run: back });
}

function useWalkingCommands({ project, hit, stay }: Bench) {
  const { walking, flat, set } = useModelBench();
  const stand = (c: CameraControls, at: V3) => {
    c.saveState(); // leaving comes back to it
    set({ walking: true });
    standAt(c, at, floorBelow(project, at[2]));
  };
  const climb = (to: 1 | -1) => (c: CameraControls) => {
    const floors = project.facts.storeys.map((s) => s.elevation).sort((a, b) => a - b);
    const now = floorBelow(project, c.camera.position.z);
    const next = floors[floors.indexOf(now) + to];
    if (next !== undefined) walk(c, 0, next - now);
  };
  const command = (name: string, keys: string, act: (controls: CameraControls) => unknown) => ({
    name,
    group: GROUP,
    keys,
    enabled: walking,
    run: () => stay(act),
  });
  useCommand({
    name: "Stand on the floor at what is picked",
    group: GROUP,
    keys: "s",
    enabled: hit !== undefined && !walking,
    run: () => {
      if (flat) set({ flat: false });
      if (hit) stay((c) => stand(c, hit.at));
    },
  });
  useCommand(command("Walk on", "up", (c) => walk(c, PACE)));
  useCommand(command("Walk back", "down", (c) => walk(c, -PACE)));
  useCommand(command("Look to the left", "left", (c) => turnHead(c, GLANCE)));
  useCommand(command("Look to the right", "right", (c) => turnHead(c, -GLANCE)));
  useCommand(command("Walk a storey up", "pageup", climb(1)));
  useCommand(command("Walk a storey down", "pagedown", climb(-1)));
}

const floorBelow = (project: Project, z: number) => levelAt(project, z)?.elevation ?? 0;
