import { LoaderCircle } from "lucide-react";
import { type ReactNode, useState } from "react";
import type { Drawing } from "../../api/client";
import { scaleText } from "../../fields/scale";
import { DrawingName } from "../lineage/DrawingName";

type HeadProps = {
  title: string;
  scale?: number;
  busy?: boolean;
  /** The saved drawing that the pane shows, whose name can be edited. */
  drawing?: Drawing;
  onRename?: (name: string) => void;
  children?: ReactNode;
};

export function PaneHead({ title, scale, busy, drawing, onRename, children }: HeadProps) {
  const [naming, setNaming] = useState<number>();
  return (
    <header className="flex h-8 items-center gap-2 border-b border-base-300 bg-base-200 px-2">
      {drawing && onRename && naming === drawing.id ? (
        <DrawingName
          drawing={drawing}
          onDone={(name) => {
            setNaming(undefined);
            if (name !== null && name !== drawing.name) onRename(name);
          }}
        />
      ) : (
        <h2 className="min-w-0 truncate font-semibold">
          {drawing && onRename ? (
            <button
              type="button"
              className="max-w-full cursor-text truncate align-bottom"
              title={`${title} (double-click or Enter renames)`}
              onDoubleClick={() => setNaming(drawing.id)}
              onKeyDown={(event) => {
                if (event.key !== "Enter" && event.key !== "F2") return;
                event.preventDefault();
                setNaming(drawing.id);
              }}
            >
              {title}
            </button>
          ) : (
            title
          )}
        </h2>
      )}
      {scale && <span className="figures shrink-0 text-xs opacity-85">{scaleText(scale)}</span>}
      {busy && <LoaderCircle size={13} className="shrink-0 animate-spin opacity-60" aria-label="Cutting" />}
      <span className="flex-1" />
      {children}
    </header>
  );
}

type FootProps = { problem?: string; findings?: string[]; children?: ReactNode };

/** One line at the pane's foot: the next step, or what is wrong; and what the drawing should show and does not. */
export function PaneFoot({ problem, findings = [], children }: FootProps) {
  return (
    <footer className="flex min-h-9 items-center border-t border-base-300 bg-base-200 px-2 py-0.5 text-xs leading-tight">
      {problem ? (
        <span role="alert" className="text-error">
          {problem}
        </span>
      ) : (
        <span className="min-w-0 flex-1 opacity-85">{children}</span>
      )}
      {findings.length > 0 && (
        <details className="relative ml-2 shrink-0">
          <summary className="cursor-pointer">
            {findings.length} {findings.length === 1 ? "finding" : "findings"}
          </summary>
          <ul className="absolute right-0 bottom-6 z-20 max-h-60 w-80 list-disc overflow-auto rounded border border-base-300 bg-base-100 py-2 pr-3 pl-6 shadow-lg">
            {findings.map((finding) => (
              <li key={finding}>{finding}</li>
            ))}
          </ul>
        </details>
      )}
    </footer>
  );
}
