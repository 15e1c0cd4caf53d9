import { X } from "lucide-react";
import type { ReactNode } from "react";

type Props = { label: string; title: string; wide: string; onClose: () => void; children: ReactNode };

/** What opens over the right side of the window, for all of a project, and is closed again. */
export function SidePanel({ label, title, wide, onClose, children }: Props) {
  return (
    <aside
      aria-label={label}
      className={`fixed top-10 right-0 bottom-0 z-30 flex flex-col gap-3 overflow-y-auto border-l border-base-300 bg-base-200 p-3 shadow-xl ${wide}`}
    >
      <header className="flex items-center">
        <h2 className="flex-1 text-sm font-semibold">{title}</h2>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label="Close"
          onClick={onClose}
        >
          <X size={14} />
        </button>
      </header>
      {children}
    </aside>
  );
}
