import { useState } from "react";
import { toast } from "sonner";
import type { GroundHandle, GroundRole } from "../../api/client";
import { drawGround, moveGroundHandle, useGround, useGroundHandles } from "../../api/ground";
import { keys, queryClient } from "../../api/queries";
import { goesOnIn, held, type Place } from "../../desk/mode";
import { type Spot, toScreen } from "../../drawing/camera";
import type { PaperPointer } from "../../drawing/canvas/DrawingCanvas";
import { Grip } from "../../drawing/canvas/Grip";
import { useCommand } from "../../shell/commands";
import { onModel, onPaper, rounded } from "../cutting/plan-geometry";
import { type Over, type Pane, tool } from "../modes/tool";

/** A line of ground being drawn, metres in its drawing, and which ground it becomes. */
type Drawing = {
  kind: "ground";
  drawing: number | null;
  role: GroundRole;
  points: Place[];
  pointer: Place | null;
};
const ground = held<Drawing>("ground");

const isUpright = ({ spec: { cut } }: Pane) => cut.kind === "section" || cut.kind === "elevation";

export const useGroundCommand = (enabled: boolean) =>
  useCommand({
    name: "Draw the ground, or move its points",
    group: "Drawing",
    keys: "g",
    enabled,
    run: () =>
      ground.set(ground.now() ? null : { drawing: null, role: "existing", points: [], pointer: null }),
  });

const at = ({ paper }: PaperPointer, { scale }: Pane): Place => rounded(onModel(paper, scale));

async function finish({ project, spec }: Pane, { role, points }: Drawing) {
  if (points.length < 2) {
    toast("A line of ground needs two points or more; nothing was changed.");
    return;
  }
  ground.set({ drawing: null, role, points: [], pointer: null });
  const version = queryClient.getQueryData<{ version: number }>(keys.ground(project.id))?.version ?? 0;
  await drawGround(project.id, { version, cut: spec.cut, role, points });
}

/** A line through points that are clicked in a section or elevation becomes the ground; points of the ground that is
 * there are dragged. */
export const groundTool = tool({
  held: ground,
  works: (pane, mode) => isUpright(pane) && goesOnIn(mode, pane.drawing),
  click: (pointer, pane, mode) =>
    ground.set({
      ...mode,
      drawing: pane.drawing?.id ?? null,
      points: [...mode.points, at(pointer, pane)],
      pointer: null,
    }),
  doubleClick: (_, pane, mode) => {
    finish(pane, mode);
  },
  move: (pointer, pane, mode) => {
    if (mode.points.length > 0) ground.set({ ...mode, pointer: at(pointer, pane) });
  },
  key: ({ key }, pane, mode) => {
    if (mode.points.length === 0) return false;
    if (key === "Enter") finish(pane, mode);
    else if (key === "Backspace") ground.set({ ...mode, points: mode.points.slice(0, -1) });
    else return false;
    return true;
  },
  back: (mode) => (mode.points.length > 0 ? { ...mode, drawing: null, points: [], pointer: null } : null),
  Foot: GroundFoot,
  Over: GroundOver,
});

const ROLES: [GroundRole, string][] = [
  ["existing", "As it is"],
  ["proposed", "Proposed"],
];

function GroundFoot() {
  const mode = ground.useHeld();
  if (!mode) return null;
  return (
    <span className="flex items-center gap-2">
      {ROLES.map(([role, name]) => (
        <button
          key={role}
          type="button"
          aria-pressed={mode.role === role}
          className={`btn btn-xs ${mode.role === role ? "btn-active" : "btn-ghost"}`}
          onClick={() => ground.set({ ...mode, role })}
        >
          {name}
        </button>
      ))}
      {mode.points.length === 0
        ? "Click along the ground from one side to the other, or drag a point of the ground that is there. Esc leaves."
        : "Enter makes it the ground; Backspace takes the last point back, Esc begins anew."}
    </span>
  );
}

/** The line that is drawn, and the points of the ground that is there. */
function GroundOver({ pane, camera }: Over) {
  const mode = ground.useHeld();
  const { data: state } = useGround(pane.project.id);
  const { data: handles = [] } = useGroundHandles(pane.project.id, pane.spec.cut, state?.version);
  if (!mode || !isUpright(pane)) return null;
  const mine = mode.drawing === null || mode.drawing === pane.drawing?.id;
  const line = [...mode.points, ...(mode.pointer ? [mode.pointer] : [])];
  const spots = line.map((p) => toScreen(camera, onPaper(p, pane.scale)));
  return (
    <>
      {mode.points.length === 0 &&
        handles.map((handle) => (
          <HandleGrip
            key={`${handle.role} ${handle.index}`}
            {...{ pane, camera, handle }}
            version={state?.version ?? 0}
          />
        ))}
      {mine && (
        <g pointerEvents="none" stroke="var(--ink-cut)" fill="none" strokeWidth={1.8}>
          <polyline points={spots.map((p) => `${p.x},${p.y}`).join(" ")} />
          {spots.map((p, k) => {
            const key = `point ${k}`;
            return <circle key={key} cx={p.x} cy={p.y} r={3} fill="var(--film)" />;
          })}
        </g>
      )}
    </>
  );
}

type HandleProps = Over & { handle: GroundHandle; version: number };

function HandleGrip({ pane, camera, handle, version }: HandleProps) {
  const [to, setTo] = useState<Place | null>(null);
  const { u, v, role, index, moves } = handle;
  const place: Place = to ?? [u, v];
  const drag = (paper: Spot) => {
    const [x, y] = rounded(onModel(paper, pane.scale));
    setTo([moves === "place" ? x : u, y]);
  };
  const drop = async () => {
    if (!to) return;
    const moved = { version, cut: pane.spec.cut, role, index, u: to[0], v: to[1] };
    await moveGroundHandle(pane.project.id, moved);
    setTo(null);
  };
  return (
    <Grip
      camera={camera}
      at={onPaper(place, pane.scale)}
      label={`Point ${index + 1} of the ${role} ground`}
      colour="var(--ink-cut)"
      shape={role === "existing" ? "round" : "square"}
      cursor={moves === "place" ? "move" : "ns-resize"}
      onDrag={drag}
      onDrop={drop}
    />
  );
}
