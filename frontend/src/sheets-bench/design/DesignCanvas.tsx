import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, type DesignRegion, type Sheet, unwrap } from "../../api/client";
import { useSheetState } from "../../desk/sheet-state";
import { type Camera, type Spot, toScreen } from "../../drawing/camera";
import { DrawingCanvas } from "../../drawing/canvas/DrawingCanvas";
import { type Frame, parseView } from "../../drawing/screen-form";
import { nudgeOf, useDrag } from "../paper/PlacementBox";
import { boxOf, frameOf, movable, regionMoved, withRegion } from "./design-steps";

const AIR = 10; // mm of desk around a sheet
const GRIP = 10; // pixels

/** A sheet design changed on the sheet itself: its parts and areas are dragged and sized. */
export function DesignCanvas({ sheet }: { sheet: Sheet }) {
  const { designing, setDesigning } = useSheetState();
  const document = designing?.document;
  const { data: view, error } = useQuery({
    queryKey: ["design preview", sheet.id, sheet.picture, document],
    gcTime: 0,
    placeholderData: (before: ReturnType<typeof parseView> | undefined) => before,
    enabled: document !== undefined,
    queryFn: async () => {
      if (!document) throw new Error("no design");
      const request = {
        params: { path: { id: sheet.id } },
        body: { document },
        parseAs: "arrayBuffer" as const,
      };
      return parseView(await unwrap<ArrayBuffer>(client.POST("/api/sheets/{id}/design-preview", request)));
    },
  });
  if (!designing || !document) return null;
  const frame = frameOf(sheet, document);
  return (
    <div className="min-h-0 flex-1">
      {error && (
        <p role="alert" className="alert alert-error m-2">
          {error.message}
        </p>
      )}
      <DrawingCanvas
        name={`Design of sheet ${sheet.number}`}
        cameraKey={`sheet ${sheet.id} ${sheet.size}`}
        view={view ?? null}
        page={[-AIR, -AIR, sheet.width + AIR, sheet.height + AIR]}
        onDesk
        onClick={() => setDesigning({ ...designing, chosen: "" })}
      >
        {(camera) => (
          <g>
            {movable(document).map((m) => (
              <Movable
                key={`${m.key} ${JSON.stringify(m.region)}`}
                camera={camera}
                frame={frame}
                says={m.says}
                region={m.region}
                chosen={designing.chosen === m.key}
                onChoose={() => setDesigning({ ...designing, chosen: m.key })}
                onChange={(region) =>
                  setDesigning({ ...designing, chosen: m.key, document: withRegion(document, m.key, region) })
                }
              />
            ))}
          </g>
        )}
      </DrawingCanvas>
    </div>
  );
}

type Props = {
  camera: Camera;
  frame: Frame;
  says: string;
  region: DesignRegion;
  chosen: boolean;
  onChoose: () => void;
  onChange: (region: DesignRegion) => void;
};

function Movable({ camera, frame, says, region, chosen, onChoose, onChange }: Props) {
  const [now, setNow] = useState(region);
  const whole = ({ x, y }: Spot) => regionMoved(region, { left: x, right: x, base: y, top: y });
  const corner = ({ x, y }: Spot) => regionMoved(region, { right: x, base: y });
  const other = ({ x, y }: Spot) => regionMoved(region, { left: x, top: y });
  const settle = (to: (by: Spot) => DesignRegion) => (by: Spot | null) =>
    by ? onChange(to(by)) : setNow(region);
  const drag = useDrag(camera, (by) => setNow(whole(by)), settle(whole));
  const size = useDrag(camera, (by) => setNow(corner(by)), settle(corner));
  const sizeOther = useDrag(camera, (by) => setNow(other(by)), settle(other));
  const [left, base, right, top] = boxOf(now, frame);
  const a = toScreen(camera, { x: left, y: top });
  const c = toScreen(camera, { x: right, y: base });
  return (
    <g>
      {/* biome-ignore lint/a11y/useSemanticElements: a button can't stand in an SVG */}
      <rect
        role="button"
        tabIndex={0}
        aria-label={says}
        aria-pressed={chosen}
        className="pointer-events-auto cursor-move"
        x={a.x}
        y={a.y}
        width={Math.max(2, c.x - a.x)}
        height={Math.max(2, c.y - a.y)}
        fill={chosen ? "var(--ink-extents)" : "transparent"}
        fillOpacity={0.08}
        stroke="var(--ink-extents)"
        strokeDasharray={says.startsWith("Area") ? "6 4" : undefined}
        strokeWidth={chosen ? 2 : 1}
        {...drag}
        onPointerDown={(event) => {
          drag.onPointerDown(event);
          onChoose();
        }}
        onClick={(event) => event.stopPropagation()}
        onKeyDown={(event) => {
          const way = nudgeOf(event);
          if (!way) return;
          event.preventDefault();
          onChange(whole(way));
        }}
      />
      {chosen && (
        <>
          <rect
            aria-label={`Size of ${says}, lower right`}
            className="pointer-events-auto cursor-nwse-resize"
            x={c.x - GRIP / 2}
            y={c.y - GRIP / 2}
            width={GRIP}
            height={GRIP}
            fill="var(--film)"
            stroke="var(--ink-extents)"
            {...size}
          />
          <rect
            aria-label={`Size of ${says}, upper left`}
            className="pointer-events-auto cursor-nwse-resize"
            x={a.x - GRIP / 2}
            y={a.y - GRIP / 2}
            width={GRIP}
            height={GRIP}
            fill="var(--film)"
            stroke="var(--ink-extents)"
            {...sizeOther}
          />
        </>
      )}
    </g>
  );
}
