import { X } from "lucide-react";
import { markChanges } from "../../api/publications";
import { useIssuedView } from "../../desk/use-issued-view";
import { DrawingCanvas } from "../../drawing/canvas/DrawingCanvas";
import { pinAt, pinning } from "../../remarks/pinning";
import { IssuedPins } from "../../remarks/SheetPins";

type Props = { project: number; issued: number; title: string; changes: boolean; onClose: () => void };

/** A sheet as it was issued, or as it is now over what was issued: what went dashed, what came heavy. */
export function Comparison({ project, issued, title, changes, onClose }: Props) {
  const { data: view, error } = useIssuedView(issued, changes);
  const pinned = pinning.useHeld() !== null;
  return (
    <>
      <header className="flex h-8 shrink-0 items-center gap-2 border-b border-base-300 bg-base-200 px-2">
        <h2 className="min-w-0 flex-1 truncate font-semibold">{title}</h2>
        {changes && <span className="text-xs">dashed: removed; heavy: added</span>}
        {changes && (
          <button
            type="button"
            className="btn btn-xs"
            title="Around every place of its drawings that has changed since; they are lines of the drawings, moved and deleted like others"
            onClick={() => markChanges(project, issued)}
          >
            Place revision marks
          </button>
        )}
        <button type="button" className="btn btn-xs" onClick={onClose}>
          <X size={12} /> Back to the sheet
        </button>
      </header>
      {error && (
        <p role="alert" className="alert alert-error m-2">
          {error.message}
        </p>
      )}
      <div className="min-h-0 flex-1">
        <DrawingCanvas
          name={title}
          cameraKey={`issued ${issued}`}
          view={view ?? null}
          page={view?.frame}
          onDesk
          cursor={pinned && !changes ? "crosshair" : undefined}
          onClick={({ paper }) => {
            if (pinned && !changes) pinAt({ sheet: null, issued, drawing: null, at: [paper.x, paper.y] });
          }}
        >
          {(camera) => !changes && <IssuedPins project={project} issued={issued} camera={camera} />}
        </DrawingCanvas>
      </div>
    </>
  );
}
