import { ChevronLeft, ChevronRight, X } from "lucide-react";
import { useEffect, useRef } from "react";
import type { Viewpoint } from "../../api/client";
import { useModelBench } from "../../model/model-state";

const ON = ["ArrowRight", "ArrowDown", "PageDown", " ", "Enter"];
const BACK = ["ArrowLeft", "ArrowUp", "PageUp", "Backspace"];

type Props = { viewpoints: Viewpoint[]; onGo: (viewpoint: Viewpoint) => void; onLeave: () => void };

/** Viewpoints one after the other, with their words and nothing else; keys or a click go on. */
export function Presentation({ viewpoints, onGo, onLeave }: Props) {
  const at = useModelBench((s) => s.viewpoint);
  const k = Math.max(
    0,
    viewpoints.findIndex((v) => v.id === at),
  );
  const now = viewpoints[k];
  const goTo = (to: number) => {
    const next = viewpoints[Math.min(viewpoints.length - 1, Math.max(0, to))];
    if (next && next.id !== now?.id) onGo(next);
  };
  const keys = useRef<(event: KeyboardEvent) => void>(() => undefined);
  keys.current = (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    event.stopImmediatePropagation(); // the keys of the bench do nothing meanwhile
    if (event.key === "Tab") return;
    if (event.target instanceof HTMLButtonElement && [" ", "Enter"].includes(event.key)) return;
    event.preventDefault();
    if (event.key === "Escape") onLeave();
    else if (ON.includes(event.key)) goTo(k + 1);
    else if (BACK.includes(event.key)) goTo(k - 1);
    else if (event.key === "Home") goTo(0);
    else if (event.key === "End") goTo(viewpoints.length - 1);
  };
  useEffect(() => {
    const heard = (event: KeyboardEvent) => keys.current(event);
    window.addEventListener("keydown", heard, true);
    return () => window.removeEventListener("keydown", heard, true);
  }, []);
  if (!now) return null;
  return (
    <section
      aria-label="Presentation"
      className="pointer-events-none absolute inset-x-0 bottom-0 flex items-end justify-between gap-6 p-6"
    >
      <div aria-live="polite" className="max-w-[60ch] rounded bg-base-100/90 px-4 py-2">
        <h2 className="text-xl font-semibold">{now.name}</h2>
        {now.seen.says && <p className="text-base">{now.seen.says}</p>}
      </div>
      <div className="pointer-events-auto flex items-center gap-1 rounded bg-base-100/90 p-1 opacity-60 focus-within:opacity-100 hover:opacity-100">
        <Step label="Back" off={k === 0} onClick={() => goTo(k - 1)}>
          <ChevronLeft size={16} />
        </Step>
        <span className="figures px-1 text-sm">
          {k + 1} / {viewpoints.length}
        </span>
        <Step label="On" off={k === viewpoints.length - 1} onClick={() => goTo(k + 1)}>
          <ChevronRight size={16} />
        </Step>
        <Step label="Leave the presentation" off={false} onClick={onLeave}>
          <X size={16} />
        </Step>
      </div>
    </section>
  );
}

type StepProps = { label: string; off: boolean; onClick: () => void; children: React.ReactNode };

function Step({ label, off, onClick, children }: StepProps) {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-sm btn-square"
      aria-label={label}
      title={label}
      disabled={off}
      onClick={onClick}
    >
      {children}
    </button>
  );
}
