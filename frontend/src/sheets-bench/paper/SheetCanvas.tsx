import { type DragEvent, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { Drawing, Placement, Project, Settings, Sheet } from "../../api/client";
import { useGuides, useSheetActs } from "../../api/sheet-acts";
import { useSheetState, type WorkInPlace } from "../../desk/sheet-state";
import { useSheetPicture } from "../../desk/use-sheet-picture";
import { type Camera, type Spot, toPaper, toScreen } from "../../drawing/camera";
import { DrawingCanvas } from "../../drawing/canvas/DrawingCanvas";
import { useNextFrame } from "../../drawing/canvas/use-next-frame";
import { useLook } from "../../drawing/look";
import type { Frame, View } from "../../drawing/screen-form";
import { pinAt, pinning } from "../../remarks/pinning";
import { SheetPins } from "../../remarks/SheetPins";
import { Lifted } from "./Lifted";
import { PlacementBox } from "./PlacementBox";
import { PlacementGrips } from "./PlacementGrips";
import { drawingOf, type Snap, snapped } from "./sheet-snaps";
import { TableBoxes } from "./TableBox";

const AIR = 10; // mm of desk around a sheet
const ROOM = 30; // mm about a drawing that is worked on
const SOON = 80; // ms, until the sheet has been brought near
const NEAR = 7; // pixels from which a drawing is brought to a line
const STILL: Spot = { x: 0, y: 0 };
type Moving = { ids: number[]; by: Spot; snaps: Snap[] };

type Props = {
  project: Project;
  settings: Settings;
  sheet: Sheet;
  drawings: Drawing[];
  InPlace: WorkInPlace["Pane"];
};

/** The sheet large: placements are dragged, a double click works in the drawing or follows a marker. */
export function SheetCanvas({ project, settings, sheet, drawings, InPlace }: Props) {
  const { data: view, error } = useSheetPicture(sheet);
  const { data: guides = [] } = useGuides(sheet);
  // the sheet's own size: while its picture is on its way, that of the sheet before is shown
  const page = useMemo<Frame>(
    () => [-AIR, -AIR, sheet.width + AIR, sheet.height + AIR],
    [sheet.width, sheet.height],
  );
  const { move, change, place, take } = useSheetActs(sheet.project_id);
  const { chosen, choose, working, setWorking } = useSheetState();
  const lookAt = useLook((s) => s.lookAt);
  const [moving, setMoving] = useState<Moving | null>(null);
  const [tableSnaps, setTableSnaps] = useState<Snap[]>([]);
  const inFrame = useNextFrame();
  const shown = useRef<Camera | null>(null);
  const navigate = useNavigate();
  const pinned = pinning.useHeld() !== null;
  const open = (drawing: number) => navigate(`/projects/${sheet.project_id}?drawing=${drawing}`);

  const follow = (paper: Spot) => {
    const inside = ([l, b, r, t]: readonly number[]) =>
      paper.x >= (l ?? 0) && paper.x <= (r ?? 0) && paper.y >= (b ?? 0) && paper.y <= (t ?? 0);
    const link = view?.links.find((k) => inside(k.box));
    const placed = sheet.placements.findLast((p) => inside(p.box));
    const [kind, number] = link?.target.split(":") ?? [];
    if (kind === "sheet") navigate(`/projects/${sheet.project_id}/sheets/${number}`);
    else if (kind === "drawing") open(Number(number));
    else if (placed) work(placed);
  };
  /** Work on a drawing where it stands: the sheet is brought near first. */
  const work = (placed: Placement) => {
    const [l, b, r, t] = placed.whole;
    lookAt(`sheet ${sheet.id} ${sheet.size}`, [l - ROOM, b - ROOM, r + ROOM, t + ROOM]);
    setTimeout(() => shown.current && setWorking({ placement: placed.id, camera: shown.current }), SOON);
  };
  const those = (p: Placement) =>
    chosen.includes(p.id) ? sheet.placements.filter((o) => chosen.includes(o.id)) : [p];
  const settle = (moved: Placement[], by: Spot) => {
    const at = (value: number) => Math.round(value * 1000) / 1000;
    const moves = moved.map((p) => ({ id: p.id, version: p.version, x: at(p.x + by.x), y: at(p.y + by.y) }));
    move.mutate({ sheet: sheet.id, moves }, { onSettled: () => setMoving(null) });
  };
  const drag = (p: Placement, camera: Camera, by: Spot) => {
    const moved = those(p);
    inFrame(() =>
      setMoving({
        ids: moved.map((m) => m.id),
        ...snapped(sheet, moved.map(drawingOf), by, guides, NEAR / camera.zoom),
      }),
    );
  };
  const drop = (p: Placement, camera: Camera, by: Spot | null) => {
    if (by) settle(those(p), snapped(sheet, those(p).map(drawingOf), by, guides, NEAR / camera.zoom).by);
    else inFrame(() => setMoving(null));
  };
  const dropped = (event: DragEvent<HTMLDivElement>) => {
    const drawing = Number(event.dataTransfer.getData("application/x-drawing"));
    if (!drawing || !shown.current) return;
    const box = event.currentTarget.getBoundingClientRect();
    const at = toPaper(shown.current, { x: event.clientX - box.left, y: event.clientY - box.top });
    const area = sheet.areas.find(
      ({ box: [l, b, r, t] }) => at.x >= l && at.x <= r && at.y >= b && at.y <= t,
    );
    const free = area && !sheet.placements.some((p) => overlaps(p.box, area.box));
    if (free) place.mutate({ sheet: sheet.id, drawing, area: area.name });
    else place.mutate({ sheet: sheet.id, drawing });
  };
  const one = chosen.length === 1 ? sheet.placements.find((p) => p.id === chosen[0]) : undefined;

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: only receives drawings that are dropped; buttons do the same
    <div className="relative min-h-0 flex-1" onDragOver={(event) => event.preventDefault()} onDrop={dropped}>
      {error && (
        <p role="alert" className="alert alert-error m-2">
          {error.message}
        </p>
      )}
      <DrawingCanvas
        name={`Sheet ${sheet.number}`}
        cameraKey={`sheet ${sheet.id} ${sheet.size}`}
        view={view ?? null}
        page={page}
        onDesk
        cursor={pinned ? "crosshair" : undefined}
        onClick={({ paper }) =>
          pinned
            ? pinAt({ sheet: sheet.id, issued: null, drawing: null, at: [paper.x, paper.y] })
            : choose([])
        }
        onBox={(from, to) => choose(sheet.placements.filter((p) => taken(p.box, from, to)).map((p) => p.id))}
        onDoubleClick={(p) => follow(p.paper)}
        over={(camera) =>
          moving?.ids.map((id) => {
            const placement = sheet.placements.find((p) => p.id === id);
            return placement && <Lifted key={id} camera={camera} placement={placement} by={moving.by} />;
          })
        }
      >
        {(camera) => {
          shown.current = camera;
          return (
            <g>
              <PaperEdge camera={camera} sheet={sheet} />
              {sheet.areas.map((a) => (
                <AreaFrame key={a.name} camera={camera} name={a.name} box={a.box} />
              ))}
              {!pinned &&
                sheet.placements.map((p) => (
                  <PlacementBox
                    key={p.id}
                    camera={camera}
                    placement={p}
                    title={drawings.find((d) => d.id === p.drawing_id)?.title ?? "Drawing"}
                    chosen={chosen.includes(p.id)}
                    by={moving?.ids.includes(p.id) ? moving.by : STILL}
                    onChoose={(more) => choose(more ? turned(chosen, p.id) : [p.id])}
                    onMove={(by) => drag(p, camera, by)}
                    onDrop={(by) => drop(p, camera, by)}
                    onNudge={(by) => settle(those(p), by)}
                    onOpen={follow}
                    onRemove={() => {
                      for (const q of those(p)) take.mutate(q.id);
                      choose([]);
                    }}
                  />
                ))}
              {one && !moving && (
                <PlacementGrips
                  key={`${one.id} ${one.version}`}
                  camera={camera}
                  placement={one}
                  bubble={bubbleOf(view, one)}
                  onChange={(said) => change.mutate({ placement: one, change: said })}
                />
              )}
              <TableBoxes
                camera={camera}
                sheet={sheet}
                guides={guides}
                near={NEAR / camera.zoom}
                onSnaps={setTableSnaps}
              />
              <SheetPins sheet={sheet} camera={camera} />
              {(moving?.snaps ?? tableSnaps).map((s) => (
                <SnapLine key={s.way} camera={camera} sheet={sheet} snap={s} />
              ))}
            </g>
          );
        }}
      </DrawingCanvas>
      {working && (
        <InPlace
          key={working.placement}
          project={project}
          settings={settings}
          sheet={sheet}
          working={working}
          drawings={drawings}
        />
      )}
    </div>
  );
}

/** Where the bubble of a title stands, mm: its number is in the middle of it. */
function bubbleOf(view: View | undefined, { id }: Placement): Spot | null {
  const number = view?.labels.find((l) => l.role === "title number" && l.source === `placement:${id}`);
  return number ? { x: number.x, y: number.y + number.size * CAPITALS } : null;
}
const CAPITALS = 0.36; // of the size of a letter, half of the height of its capitals

const turned = (list: number[], id: number) =>
  list.includes(id) ? list.filter((x) => x !== id) : [...list, id];

const overlaps = (a: Frame, b: Frame) => a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3];

/** Whether a box takes a placement: drawn to the right it must hold it, to the left touch it. */
function taken([l, b, r, t]: Frame, from: Spot, to: Spot): boolean {
  const box: Frame = [
    Math.min(from.x, to.x),
    Math.min(from.y, to.y),
    Math.max(from.x, to.x),
    Math.max(from.y, to.y),
  ];
  if (to.x < from.x) return overlaps([l, b, r, t], box);
  return l >= box[0] && b >= box[1] && r <= box[2] && t <= box[3];
}

function PaperEdge({ camera, sheet }: { camera: Camera; sheet: Sheet }) {
  const a = toScreen(camera, { x: 0, y: sheet.height });
  return (
    <rect
      x={a.x}
      y={a.y}
      width={sheet.width * camera.zoom}
      height={sheet.height * camera.zoom}
      fill="none"
      stroke="#8a9089"
      pointerEvents="none"
    />
  );
}

/** A place for drawings, with its name in the corner. */
function AreaFrame({
  camera,
  name,
  box: [left, base, right, top],
}: {
  camera: Camera;
  name: string;
  box: Frame;
}) {
  const a = toScreen(camera, { x: left, y: top });
  return (
    <g pointerEvents="none">
      <rect
        x={a.x + 2}
        y={a.y + 2}
        width={Math.max(0, (right - left) * camera.zoom - 4)}
        height={Math.max(0, (top - base) * camera.zoom - 4)}
        fill="none"
        stroke="var(--ink-depth)"
        strokeOpacity={0.5}
        strokeDasharray="2 5"
      />
      <text x={a.x + 7} y={a.y + 15} fontSize={10} fill="var(--ink-depth)" opacity={0.8}>
        {name}
      </text>
    </g>
  );
}

/** The line that a moved drawing was brought to, with its word. */
function SnapLine({ camera, sheet, snap }: { camera: Camera; sheet: Sheet; snap: Snap }) {
  const upright = snap.way === "x";
  const a = toScreen(camera, upright ? { x: snap.at, y: sheet.height } : { x: 0, y: snap.at });
  const b = toScreen(camera, upright ? { x: snap.at, y: 0 } : { x: sheet.width, y: snap.at });
  return (
    <g pointerEvents="none">
      <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke="var(--ink-cut)" strokeDasharray="6 3" />
      <text
        x={a.x + 6}
        y={upright ? a.y + 14 : a.y - 5}
        fontSize={11}
        fill="var(--ink-cut)"
        stroke="var(--film)"
        strokeWidth={3}
        paintOrder="stroke"
      >
        {snap.says}
      </text>
    </g>
  );
}
