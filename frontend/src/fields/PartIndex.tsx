import { ListTree } from "lucide-react";
import { type RefObject, useEffect, useState } from "react";
import { useFolds } from "./Part";

/** The heads of all parts of a panel: a click goes to one and unfolds it; all fold and unfold at once. */
export function PartIndex({
  within,
  marked,
}: {
  within: RefObject<HTMLElement | null>;
  /** Parts in which something departs. */
  marked: ReadonlySet<string>;
}) {
  const [heads, setHeads] = useState<string[] | null>(null);
  const { fold } = useFolds();
  useEffect(() => {
    if (!heads) return;
    const leave = (event: KeyboardEvent) => event.key === "Escape" && setHeads(null);
    window.addEventListener("keydown", leave);
    return () => window.removeEventListener("keydown", leave);
  }, [heads]);
  const found = () =>
    [...(within.current?.querySelectorAll<HTMLElement>("[data-part]") ?? [])].map(
      (part) => part.dataset.part ?? "",
    );
  const go = (title: string) => {
    setHeads(null);
    fold([title], false);
    within.current?.querySelector(`[data-part="${CSS.escape(title)}"]`)?.scrollIntoView({ block: "start" });
  };
  const all = (folded: boolean) => {
    fold(heads ?? [], folded);
    setHeads(null);
  };
  return (
    <div className="relative ml-auto font-normal">
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square"
        aria-label="Index of particulars"
        aria-expanded={heads !== null}
        title="Where things are"
        onClick={() => setHeads(heads ? null : found())}
      >
        <ListTree size={13} />
      </button>
      {heads && (
        <nav
          aria-label="Parts of particulars"
          className="absolute top-7 right-0 z-30 flex w-52 flex-col rounded border border-base-300 bg-base-100 p-1 shadow-lg"
        >
          {heads.map((title) => (
            <button
              key={title}
              type="button"
              className="btn btn-ghost btn-xs w-full justify-start font-normal"
              onClick={() => go(title)}
            >
              {title}
              {marked.has(title) && <span aria-hidden="true" className="size-1.5 rounded-full bg-primary" />}
            </button>
          ))}
          <div className="mt-1 flex gap-1 border-t border-base-300 pt-1">
            <button
              type="button"
              className="btn btn-ghost btn-xs flex-1 font-normal"
              onClick={() => all(true)}
            >
              Fold all
            </button>
            <button
              type="button"
              className="btn btn-ghost btn-xs flex-1 font-normal"
              onClick={() => all(false)}
            >
              Unfold all
            </button>
          </div>
        </nav>
      )}
    </div>
  );
}
