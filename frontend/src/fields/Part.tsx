import { ChevronDown, ChevronRight } from "lucide-react";
import { createContext, type ReactNode, useContext } from "react";
import { create } from "zustand";
import { persist } from "zustand/middleware";

type Folds = { folded: Record<string, boolean>; fold: (titles: string[], folded: boolean) => void };

/** Which parts are folded: they stay as they were left. */
export const useFolds = create<Folds>()(
  persist(
    (set) => ({
      folded: {},
      fold: (titles, folded) =>
        set((old) => ({
          folded: { ...old.folded, ...Object.fromEntries(titles.map((t) => [t, folded])) },
        })),
    }),
    { name: "edge-slice folds" },
  ),
);

/** Parts in which a drawing departs from its rule. */
export const Departing = createContext<ReadonlySet<string>>(new Set());

/** A titled group of particulars, which folds. */
export function Part({ title, children }: { title: string; children: ReactNode }) {
  const { folded, fold } = useFolds();
  const departs = useContext(Departing).has(title);
  const shut = folded[title] ?? false;
  return (
    <fieldset data-part={title} className="flex min-w-0 flex-col gap-1.5 border-b border-base-300 px-3 py-2">
      <legend className="float-left mb-0.5 w-full text-[11px] font-semibold tracking-wide uppercase opacity-85">
        <details
          open={!shut}
          onToggle={({ currentTarget: { open } }) => open === shut && fold([title], !open)}
        >
          <summary
            className="flex cursor-pointer list-none items-center gap-1"
            title={departs ? "Something here is not as the rule says" : undefined}
          >
            {title}
            {departs && <span aria-hidden="true" className="size-1.5 rounded-full bg-primary" />}
            <span aria-hidden="true" className="ml-auto opacity-50">
              {shut ? <ChevronRight size={12} /> : <ChevronDown size={12} />}
            </span>
          </summary>
        </details>
      </legend>
      {!shut && children}
    </fieldset>
  );
}
