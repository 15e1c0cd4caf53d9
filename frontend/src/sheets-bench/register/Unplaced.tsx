import { useState } from "react";
import type { Arranged, Drawing, Project, Sheet } from "../../api/client";
import { useArrange, useSheetActs } from "../../api/sheet-acts";
import { DocumentPart } from "../panels/DocumentPart";

type Props = { drawings: Drawing[]; sheet: Sheet | undefined; project: Project };

/** Drawings that stand on no sheet: one is placed or dragged, several are arranged in one act. */
export function Unplaced({ drawings, sheet, project }: Props) {
  const { place } = useSheetActs(project.id);
  const arrange = useArrange(project.id);
  const [picked, setPicked] = useState<number[]>([]);
  const [left, setLeft] = useState<Arranged["left_over"]>([]);
  const waiting = drawings.filter((d) => !d.placement);
  if (waiting.length === 0) return null;
  const wanted = picked.filter((id) => waiting.some((d) => d.id === id));
  const turn = (id: number) =>
    setPicked(wanted.includes(id) ? wanted.filter((p) => p !== id) : [...wanted, id]);
  return (
    <section aria-label="Not placed yet" className="border-t border-base-300">
      <h3 className="px-2 pt-2 pb-1 text-[11px] font-semibold tracking-wide uppercase opacity-85">
        Not placed yet
      </h3>
      <ul className="max-h-48 overflow-y-auto pb-1">
        {waiting.map((d) => (
          <li key={d.id} className="flex items-center gap-1 px-2 py-0.5">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              aria-label={`Choose ${d.title}`}
              checked={wanted.includes(d.id)}
              onChange={() => turn(d.id)}
            />
            <button
              type="button"
              className="min-w-0 flex-1 cursor-grab truncate text-left"
              title={d.title}
              draggable
              onDragStart={(event) => event.dataTransfer.setData("application/x-drawing", String(d.id))}
            >
              {d.title}
            </button>
            <button
              type="button"
              className="btn btn-xs"
              aria-label={`Place ${d.title}`}
              disabled={place.isPending || !sheet}
              onClick={() => sheet && place.mutate({ sheet: sheet.id, drawing: d.id })}
            >
              Place
            </button>
          </li>
        ))}
      </ul>
      {left.map((l) => (
        <p key={l.drawing} role="status" className="px-2 pb-1 text-xs text-warning">
          {l.title}: {l.says}.
        </p>
      ))}
      <div className="flex flex-col gap-1 px-2 pb-2">
        <DocumentPart project={project} drawings={wanted.length > 0 ? wanted : waiting.map((d) => d.id)} />
        <button
          type="button"
          className="btn btn-xs"
          disabled={arrange.isPending || !sheet}
          onClick={() =>
            sheet &&
            arrange.mutate(
              {
                sheet: sheet.id,
                drawings: (wanted.length > 0 ? wanted : waiting.map((d) => d.id)).slice(0, 60),
                all: false,
                numbers: true,
                smallest: false,
                largest: false,
              },
              {
                onSuccess: (done) => {
                  setPicked([]);
                  setLeft(done.left_over);
                },
              },
            )
          }
        >
          {wanted.length > 0 ? `Arrange these ${wanted.length}` : "Arrange all of them"}
        </button>
      </div>
    </section>
  );
}
