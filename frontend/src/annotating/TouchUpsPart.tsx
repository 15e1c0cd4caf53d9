import { Undo2 } from "lucide-react";
import { takeBack, useTouchUps } from "../api/annotations";
import type { Drawing } from "../api/client";
import { report } from "../api/queries";
import type { TouchedUp } from "../drawing/screen-form";
import { Check } from "../fields/Choice";
import { Part } from "../fields/Part";
import { useAnnotate } from "./state";

/** All touch-ups of a drawing, each with a picture of what it did and a way back. */
export function TouchUpsPart({ project, drawing }: { project: number; drawing: Drawing }) {
  const { ghosts, setGhosts, told: all } = useAnnotate();
  const did = all[drawing.id] ?? [];
  const { data: touchUps = [] } = useTouchUps(project, drawing.id, did.length > 0);
  const back = async (ids: number[]) => {
    try {
      await takeBack(drawing.id, ids);
    } catch (error) {
      report(error);
    }
  };
  if (did.length === 0) return null;
  return (
    <Part title="Touch-ups">
      <Check label="Show what they changed" checked={ghosts} onChange={setGhosts} />
      <ul aria-label="Touch-ups" className="max-h-56 overflow-y-auto">
        {touchUps.map((one) => {
          const told = did.find((t) => t.source === `touch-up:${one.id}`);
          return (
            <li key={one.id} className="flex items-center gap-1.5 py-0.5 text-xs">
              <Picture told={told} />
              <span className="min-w-0 flex-1">
                {one.said}
                {told && told.state !== "exact" && (
                  <span className="block text-warning">{told.finding || "moved with what it changes"}</span>
                )}
              </span>
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`Take back: ${one.said}`}
                title="Take back"
                onClick={() => back([one.id])}
              >
                <Undo2 size={12} />
              </button>
            </li>
          );
        })}
      </ul>
      {touchUps.length > 1 && (
        <button type="button" className="btn btn-xs" onClick={() => back(touchUps.map((t) => t.id))}>
          Take all back
        </button>
      )}
    </Part>
  );
}

/** A small picture of what a touch-up did. */
function Picture({ told }: { told: TouchedUp | undefined }) {
  const points = told?.ghost.flat() ?? [];
  if (points.length === 0) return <span className="size-8 shrink-0 rounded border border-base-300" />;
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  const [left, top] = [Math.min(...xs), Math.max(...ys)];
  const size = Math.max(Math.max(...xs) - left, top - Math.min(...ys), 1);
  const room = size * 0.15;
  return (
    <svg
      className="film size-8 shrink-0 rounded border border-base-300"
      viewBox={`${left - room} ${-top - room} ${size + 2 * room} ${size + 2 * room}`}
      aria-hidden="true"
    >
      {told?.ghost.map((line, k) => (
        <polyline
          // biome-ignore lint/suspicious/noArrayIndexKey: lines of a touch-up have no name
          key={k}
          points={line.map(([x, y]) => `${x},${-y}`).join(" ")}
          fill="none"
          stroke="var(--ink-touch)"
          strokeWidth={size / 16}
        />
      ))}
    </svg>
  );
}
