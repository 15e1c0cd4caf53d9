import { LoaderCircle } from "lucide-react";
import type { ReactNode } from "react";

export function PaneHead(props: { title: string; scale?: number; busy?: boolean; children?: ReactNode }) {
  return (
    <header className="flex h-8 items-center gap-2 border-b border-base-300 bg-base-200 px-2">
      <h2 className="truncate font-semibold">{props.title}</h2>
      {props.scale && <span className="figures shrink-0 text-xs opacity-85">1:{props.scale}</span>}
      {props.busy && (
        <LoaderCircle size={13} className="shrink-0 animate-spin opacity-60" aria-label="Cutting" />
      )}
      <span className="flex-1" />
      {props.children}
    </header>
  );
}

/** One line at the pane's foot: the next step, or what is wrong. */
export function PaneFoot({ problem, children }: { problem?: string; children?: ReactNode }) {
  return (
    <footer className="flex min-h-9 items-center border-t border-base-300 bg-base-200 px-2 py-0.5 text-xs leading-tight">
      {problem ? (
        <span role="alert" className="text-error">
          {problem}
        </span>
      ) : (
        <span className="opacity-85">{children}</span>
      )}
    </footer>
  );
}
