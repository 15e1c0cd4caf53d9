import { useVirtualizer } from "@tanstack/react-virtual";
import { Plus } from "lucide-react";
import { memo, useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { Sheet } from "../../api/client";
import { useSheetActs } from "../../api/sheet-acts";
import { useSheetPicture } from "../../desk/use-sheet-picture";
import { paint } from "../../drawing/canvas/paint";

const HIGH = 66; // pixels
const LEAST_WIDTH = 72;
const GAP = 12;
const wideOf = (sheet: Sheet) => (HIGH * sheet.width) / sheet.height;

/** Small live sheets; a drawing dropped on one is placed there. */
export function SheetShelf({ project, sheets }: { project: number; sheets: Sheet[] }) {
  const { add, place } = useSheetActs(project);
  const strip = useRef<HTMLElement>(null);
  const shown = useVirtualizer({
    horizontal: true,
    count: sheets.length,
    getScrollElement: () => strip.current,
    estimateSize: (index) => Math.max(LEAST_WIDTH, wideOf(sheets[index] as Sheet)) + GAP,
    overscan: 2,
  });
  return (
    <section
      ref={strip}
      aria-label="Sheet shelf"
      className="flex h-full items-center gap-3 overflow-x-auto bg-base-200 px-3"
    >
      <div className="relative h-full shrink-0" style={{ width: shown.getTotalSize() }}>
        {shown.getVirtualItems().map(({ index, start }) => {
          const sheet = sheets[index] as Sheet;
          return (
            <div key={sheet.id} className="absolute inset-y-0 flex items-center" style={{ left: start }}>
              <SmallSheet sheet={sheet} onPlace={place.mutate} />
            </div>
          );
        })}
      </div>
      <button
        type="button"
        className="btn btn-sm btn-ghost border border-dashed border-base-content/40"
        onClick={() => add.mutate({ title: "Untitled sheet" })}
      >
        <Plus size={14} /> New sheet
      </button>
      {sheets.length === 0 && (
        <p className="text-sm opacity-85">
          Sheets stand here. Drag a drawing from the lineage onto one to place it.
        </p>
      )}
    </section>
  );
}

type SmallProps = { sheet: Sheet; onPlace: (input: { sheet: number; drawing: number }) => void };

const SmallSheet = memo(function SmallSheet({ sheet, onPlace }: SmallProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { data: view } = useSheetPicture(sheet);
  const [over, setOver] = useState(false);
  const navigate = useNavigate();
  const wide = wideOf(sheet);
  useEffect(() => {
    if (canvas.current && view)
      paint(canvas.current, view, { left: 0, top: sheet.height, zoom: HIGH / sheet.height });
  }, [view, sheet.height]);
  return (
    <button
      type="button"
      className="flex cursor-pointer flex-col items-center gap-0.5"
      style={{ minWidth: LEAST_WIDTH }}
      aria-label={`Sheet ${sheet.number} ${sheet.title}`}
      title={`${sheet.number} ${sheet.title}: click to open`}
      onClick={() => navigate(`/projects/${sheet.project_id}/sheets/${sheet.id}`)}
      onDragOver={(event) => {
        if (event.dataTransfer.types.includes("application/x-drawing")) {
          event.preventDefault();
          setOver(true);
        }
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        setOver(false);
        onPlace({ sheet: sheet.id, drawing: Number(event.dataTransfer.getData("application/x-drawing")) });
      }}
    >
      <canvas
        ref={canvas}
        className={`film border ${over ? "border-primary outline-2 outline-primary" : "border-base-content/40"}`}
        style={{ width: wide, height: HIGH }}
      />
      <span className="w-0 min-w-full truncate text-center text-[11px]">
        <b className="figures">{sheet.number}</b> {sheet.title}
      </span>
    </button>
  );
});
