import { Scissors } from "lucide-react";
import type { Drawing } from "../../api/client";
import { useBench } from "../../desk/drawings-state";
import { startLine } from "../cutting/line-tool";
import { PaneFoot, PaneHead } from "./PaneFrame";

/** What stands at the right before there is a section: what to do first. */
export function EmptyResult({
  sections,
  onChoose,
}: {
  sections: Drawing[];
  onChoose: (drawing: Drawing) => void;
}) {
  return (
    <section className="flex h-full flex-col" aria-label="Result">
      <PaneHead title="Section" />
      <div className="film flex flex-1 flex-col items-center justify-center gap-4 p-6 text-center text-[#22302b]">
        <svg viewBox="0 0 220 110" className="w-56" aria-hidden="true">
          <g fill="none" stroke="#22302b" strokeWidth="1.4">
            <rect x="14" y="26" width="76" height="58" />
            <path d="M14 56h30M58 56h32M52 26v20" />
            <path d="M132 84V52l38-18 38 14v36z" />
            <path d="M132 62h76M164 62v22" />
          </g>
          <path d="M38 12v88" stroke="var(--ink-cut)" strokeWidth="2.4" strokeDasharray="12 3 2 3" />
          <path d="M38 26h18v58H38z" fill="var(--ink-depth)" opacity=".16" />
          <path d="M98 56h22m-7-6 7 6-7 6" fill="none" stroke="var(--ink-cut)" strokeWidth="2" />
        </svg>
        <div className="max-w-72">
          <p className="text-base font-semibold">Cut your first look inside</p>
          <p className="mt-1 text-sm opacity-80">
            Draw a line across the plan: click, click, then move to the side you want to see and click again.
            The section appears here while you move.
          </p>
        </div>
        <button type="button" className="btn btn-primary btn-sm" onClick={() => startLine("section")}>
          <Scissors size={14} /> Draw a cutting line <kbd className="kbd kbd-xs text-base-content">C</kbd>
        </button>
        {sections.length === 0 && (
          <button
            type="button"
            className="link text-sm"
            onClick={() => useBench.getState().setStarting(true)}
          >
            or begin with the usual elevations and sections
          </button>
        )}
        {sections.length > 0 && (
          <div className="flex flex-wrap justify-center gap-2 text-sm">
            {sections.map((s) => (
              <button key={s.id} type="button" className="link" onClick={() => onChoose(s)}>
                {s.title}
              </button>
            ))}
          </div>
        )}
      </div>
      <PaneFoot>Or choose a section in the lineage.</PaneFoot>
    </section>
  );
}
