import { Plus } from "lucide-react";
import { memo, useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { Sheet } from "../api/client";
import { useSheetActs } from "../api/sheet-acts";
import { paint } from "../drawing/paint";
import { useSeen } from "../sheets-bench/use-seen";
import { useSheetPicture } from "../sheets-bench/use-sheet-picture";

/** Small live sheets; a drawing dropped on one is placed there. */
export function SheetShelf({ project, sheets }: { project: number; sheets: Sheet[] }) {
  const { add, place } = useSheetActs(project);
  return (
    <section
      aria-label="Sheet shelf"
      className="flex h-full items-center gap-3 overflow-x-auto bg-base-200 px-3"
    >
      {sheets.map((sheet) => (
        <SmallSheet key={sheet.id} sheet={sheet} onPlace={place.mutate} />
      ))}
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
  const { data: view } = useSheetPicture(sheet, useSeen(canvas));
  const [over, setOver] = useState(false);
  const navigate = useNavigate();
  const high = 66;
  const wide = (high * sheet.width) / sheet.height;
  useEffect(() => {
    if (canvas.current && view)
      paint(canvas.current, view, { left: 0, top: sheet.height, zoom: high / sheet.height });
  }, [view, sheet.height]);
  return (
    <button
      type="button"
      className="flex shrink-0 cursor-pointer flex-col items-center gap-0.5"
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
        style={{ width: wide, height: high }}
      />
      <span className="max-w-28 truncate text-[11px]">
        <b className="figures">{sheet.number}</b> {sheet.title}
      </span>
    </button>
  );
});
