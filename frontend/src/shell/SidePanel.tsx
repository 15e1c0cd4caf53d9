import { X } from "lucide-react";
import { type ReactNode, useEffect, useRef } from "react";

type Props = { label: string; title: string; wide: string; onClose: () => void; children: ReactNode };

const TYPED_IN = "input, textarea, select, [role=dialog]";
let closeOpen: (() => void) | null = null; // of the panel that is open: there is one at a time

/** What opens over the right side of the window, for all of a project, in place of another one; Escape closes it. */
export function SidePanel({ label, title, wide, onClose, children }: Props) {
  const close = useRef(onClose);
  close.current = onClose;
  useEffect(() => {
    closeOpen?.();
    const mine = () => close.current();
    closeOpen = mine;
    const onKey = (event: KeyboardEvent) => {
      const at = event.target instanceof HTMLElement ? event.target : null;
      if (event.key !== "Escape" || at?.closest(TYPED_IN)) return;
      event.stopPropagation(); // what is in hand in a drawing stays there
      mine();
    };
    window.addEventListener("keydown", onKey, true);
    return () => {
      window.removeEventListener("keydown", onKey, true);
      if (closeOpen === mine) closeOpen = null;
    };
  }, []);
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
