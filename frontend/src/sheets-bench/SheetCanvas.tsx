import { useMemo, useState } from "react";
import { useNavigate } from "react-router";
import type { Drawing, Placement, Sheet } from "../api/client";
import { useSheetActs } from "../api/sheet-acts";
import { type Camera, type Spot, toPaper, toScreen } from "../drawing/camera";
import { DrawingCanvas } from "../drawing/DrawingCanvas";
import type { Frame } from "../drawing/screen-form";
import { useSheetPicture } from "./use-sheet-picture";

const AIR = 10; // mm of desk around a sheet

/** The sheet large: placements are dragged, a double click works in the drawing or follows a marker. */
export function SheetCanvas({ sheet, drawings }: { sheet: Sheet; drawings: Drawing[] }) {
  const { data: view, error } = useSheetPicture(sheet);
  // the sheet's own size: while its picture is on its way, that of the sheet before is shown
  const page = useMemo<Frame>(
    () => [-AIR, -AIR, sheet.width + AIR, sheet.height + AIR],
    [sheet.width, sheet.height],
  );
  const { move, place } = useSheetActs(sheet.project_id);
  const [chosen, setChosen] = useState<number | null>(null);
  const [moved, setMoved] = useState<{ id: number; by: Spot } | null>(null);
  const navigate = useNavigate();
  const open = (drawing: number) => navigate(`/projects/${sheet.project_id}?drawing=${drawing}`);

  const follow = (paper: Spot) => {
    const inside = ([l, b, r, t]: readonly number[]) =>
      paper.x >= (l ?? 0) && paper.x <= (r ?? 0) && paper.y >= (b ?? 0) && paper.y <= (t ?? 0);
    const link = view?.links.find((k) => inside(k.box));
    const placed = sheet.placements.find((p) => inside(p.box));
    const target = link?.target.startsWith("drawing:") ? Number(link.target.slice(8)) : placed?.drawing_id;
    if (target) open(target);
  };
  const drop = (placement: Placement, by: Spot) => {
    const x = Math.round((placement.x + by.x) * 10) / 10;
    const y = Math.round((placement.y + by.y) * 10) / 10;
    move.mutate({ placement, change: { x, y } }, { onSettled: () => setMoved(null) });
  };

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: only receives drawings that are dropped; buttons do the same
    <div
      className="min-h-0 flex-1"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        const drawing = Number(event.dataTransfer.getData("application/x-drawing"));
        if (drawing) place.mutate({ sheet: sheet.id, drawing });
      }}
    >
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
        onClick={() => setChosen(null)}
        onDoubleClick={(p) => follow(p.paper)}
      >
        {(camera) => (
          <g>
            <PaperEdge camera={camera} sheet={sheet} />
            {sheet.placements.map((p) => (
              <PlacementBox
                key={p.id}
                camera={camera}
                placement={p}
                title={drawings.find((d) => d.id === p.drawing_id)?.title ?? "Drawing"}
                chosen={p.id === chosen}
                by={moved?.id === p.id ? moved.by : { x: 0, y: 0 }}
                onChoose={() => setChosen(p.id)}
                onMove={(by) => setMoved({ id: p.id, by })}
                onDrop={(by) => drop(p, by)}
                onOpen={follow}
              />
            ))}
          </g>
        )}
      </DrawingCanvas>
    </div>
  );
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

type BoxProps = {
  camera: Camera;
  placement: Placement;
  title: string;
  chosen: boolean;
  by: Spot;
  onChoose: () => void;
  onMove: (by: Spot) => void;
  onDrop: (by: Spot) => void;
  onOpen: (paper: Spot) => void;
};

/** The frame of a placement: dragged with the pointer, nudged by 1 mm with the arrow keys (10 with Shift). */
function PlacementBox({ camera, placement, title, chosen, by, onChoose, onMove, onDrop, onOpen }: BoxProps) {
  const [start, setStart] = useState<Spot | null>(null);
  const [left, base, right, top] = placement.box;
  const a = toScreen(camera, { x: left + by.x, y: top + by.y });
  const paper = (event: { clientX: number; clientY: number; currentTarget: SVGElement }): Spot => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    return toPaper(camera, { x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) });
  };
  const offset = (p: Spot): Spot => ({ x: p.x - (start?.x ?? p.x), y: p.y - (start?.y ?? p.y) });
  return (
    // biome-ignore lint/a11y/useSemanticElements: a button can't stand in an SVG
    <rect
      role="button"
      tabIndex={0}
      aria-label={`Placement ${placement.number}: ${title}`}
      aria-pressed={chosen}
      className="pointer-events-auto cursor-move"
      x={a.x}
      y={a.y}
      width={Math.max(1, (right - left) * camera.zoom)}
      height={Math.max(1, (top - base) * camera.zoom)}
      fill={chosen ? "var(--ink-extents)" : "transparent"}
      fillOpacity={0.06}
      stroke="var(--ink-extents)"
      strokeOpacity={chosen ? 1 : 0.3}
      strokeWidth={chosen ? 1.6 : 1}
      strokeDasharray={chosen ? undefined : "3 4"}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        setStart(paper(event));
        onChoose();
      }}
      onPointerMove={(event) => {
        if (!start) return;
        event.stopPropagation();
        onMove(offset(paper(event)));
      }}
      onPointerUp={(event) => {
        if (!start) return;
        const moved = offset(paper(event));
        setStart(null);
        if (Math.hypot(moved.x, moved.y) * camera.zoom > 3) onDrop(moved);
        else onMove({ x: 0, y: 0 });
      }}
      onClick={(event) => event.stopPropagation()}
      onDoubleClick={(event) => {
        event.stopPropagation();
        onOpen(paper(event));
      }}
      onKeyDown={(event) => {
        const step = event.shiftKey ? 10 : 1;
        const moves: Record<string, Spot> = {
          ArrowLeft: { x: -step, y: 0 },
          ArrowRight: { x: step, y: 0 },
          ArrowUp: { x: 0, y: step },
          ArrowDown: { x: 0, y: -step },
        };
        const way = moves[event.key];
        if (way) {
          event.preventDefault();
          onDrop(way);
        }
        if (event.key === "Enter") onOpen({ x: (left + right) / 2, y: (base + top) / 2 });
      }}
    />
  );
}
