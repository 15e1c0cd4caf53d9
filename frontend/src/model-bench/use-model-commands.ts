import type { CameraControls } from "@react-three/drei";
import type { Project, Solid } from "../api/client";
import { levelAt } from "../model/building/storeys";
import { type Lock, turnedIn, useModelBench } from "../model/model-state";
import { plus, turned, turnedRound, type V3 } from "../model/opening/opening";
import { isTurned } from "../model/opening/plane-geometry";
import type { Hit } from "../model/view/picking";
import { FROM, leave, lookFrom, squareOnto, standAt, turnHead, walk } from "../model/view/view-acts";
import { useCommand } from "../shell/commands";

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

const command = (name: string, keys: string, run: () => unknown, enabled = true) => ({
  name,
  group: GROUP,
  keys,
  run: () => void run(),
  enabled,
});

function useCuttingCommands({ solid }: Bench) {
  const { cutting, lock, set } = useModelBench();
  const lockTo = (to: Lock) => () => set({ lock: to, cutting: true });
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
  const ofPlane = (name: string, keys: string, run: () => unknown) => command(name, keys, run, there);
  useCommand(ofPlane("Turn the plane round", "r", () => plane && set({ plane: turnedRound(plane) })));
  useCommand(command("A plane square to the view", "v", faceView, solid !== undefined));
  useCommand(
    ofPlane("Turn the plane by 90°", "t", () => plane && set({ plane: turned(plane, [0, 0, 1], 90) })),
  );
  useCommand(command("Move the plane to the viewer", "up", slide(STEP), there && !walking));
  useCommand(command("Move the plane away", "down", slide(-STEP), there && !walking));
  useCommand(ofPlane("Make the plane a drawing", "enter", () => draw({})));
  useCommand(ofPlane("Make a drawing and keep the plane", "shift+enter", () => draw({ keep: true })));
  useCommand(
    ofPlane(
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
  useCommand(command("All of the model", "home", () => solid && view((c) => lookFrom(c, solid, FROM))));
  useCommand(command("Flat, without perspective", "p", () => set({ flat: !flat }), !walking));
  useCommand(
    command(
      "Hide what is picked",
      "shift+h",
      () => picked && set({ elements: turnedIn(elements, picked), picked: null }),
      picked !== null,
    ),
  );
  useCommand(command("Come near to what is picked", "shift+z", near, picked !== null));
  useCommand(command("Pick what lies behind", "tab", () => next?.(), next !== undefined));
  useCommand(command("One step back", "escape", back));
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
  const onFoot = (name: string, keys: string, act: (controls: CameraControls) => unknown) =>
    command(name, keys, () => stay(act), walking);
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
  useCommand(onFoot("Walk on", "up", (c) => walk(c, PACE)));
  useCommand(onFoot("Walk back", "down", (c) => walk(c, -PACE)));
  useCommand(onFoot("Look to the left", "left", (c) => turnHead(c, GLANCE)));
  useCommand(onFoot("Look to the right", "right", (c) => turnHead(c, -GLANCE)));
  useCommand(onFoot("Walk a storey up", "pageup", climb(1)));
  useCommand(onFoot("Walk a storey down", "pagedown", climb(-1)));
}

const floorBelow = (project: Project, z: number) => levelAt(project, z)?.elevation ?? 0;
