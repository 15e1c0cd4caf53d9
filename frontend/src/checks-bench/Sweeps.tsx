import { useState } from "react";
import { useNavigate } from "react-router";
import { useSweeps } from "../api/checks";
import type { Project, Sweep } from "../api/client";
import { useDrawings } from "../api/queries";
import { useLengths } from "../fields/lengths";

const WIDE = 520;
const HIGH = 56;

/** Where one more section would explain most: a plane swept through the building, along both directions. */
export function Sweeps({ project }: { project: Project }) {
  const [open, setOpen] = useState(false);
  const { data: sweeps, error } = useSweeps(project.id, open);
  const { data: drawings = [] } = useDrawings(project.id);
  const navigate = useNavigate();
  const plan = drawings.find((d) => d.kind === "plan");
  const go = (sweep: Sweep, at: number) => {
    if (!plan) return;
    const { low, high } = project.facts;
    const beyond = 1.5;
    const [start, end] = [(low[sweep.axis] ?? 0) - beyond, (high[sweep.axis] ?? 0) + beyond];
    const line = sweep.axis === 0 ? [start, at, end, at] : [at, start, at, end];
    navigate(`/projects/${project.id}?drawing=${plan.id}&cut=${line.map((x) => x.toFixed(3)).join(",")}`);
  };
  return (
    <details
      className="border-b border-base-300 px-4 py-1.5 text-xs"
      open={open}
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary className="cursor-pointer">Where one more section would explain most</summary>
      {error && <p role="alert">{error.message}</p>}
      {open && !sweeps && !error && <p className="py-2">Looking …</p>}
      <div className="flex flex-wrap gap-x-10 gap-y-3 py-2">
        {sweeps?.map((sweep) => (
          <Curve key={sweep.axis} sweep={sweep} onGo={plan ? (at) => go(sweep, at) : undefined} />
        ))}
      </div>
      {open && (
        <p className="pb-1 opacity-85">
          Filled: what a section there goes through that none does yet. Line: how much of what is cut changes.
          Ticks: sections that stand. A click puts a line there, on the plan.
        </p>
      )}
    </details>
  );
}

function Curve({ sweep, onGo }: { sweep: Sweep; onGo: ((at: number) => void) | undefined }) {
  const lengths = useLengths();
  const [under, setUnder] = useState<number | null>(null);
  const { places } = sweep;
  const [first, last] = [places[0] ?? 0, places[places.length - 1] ?? 1];
  const x = (at: number) => ((at - first) / (last - first || 1)) * WIDE;
  const y = (share: number) => HIGH - share * (HIGH - 4);
  const path = (shares: number[]) =>
    shares.map((s, k) => `${k ? "L" : "M"}${x(places[k] ?? 0).toFixed(1)} ${y(s).toFixed(1)}`).join("");
  const way = sweep.axis === 0 ? "along x, by y" : "along y, by x";
  const said = (at: number) => lengths.say(at);
  const placeAt = (clientX: number, box: DOMRect) =>
    first + ((clientX - box.left) / box.width) * (last - first);
  return (
    <figure className="flex flex-col gap-1">
      <figcaption className="font-semibold">Sections {way}</figcaption>
      <button
        type="button"
        aria-label={`Put a section ${way}`}
        className="cursor-crosshair border border-base-300 bg-base-100"
        style={{ width: WIDE, height: HIGH }}
        disabled={!onGo}
        onPointerMove={(e) => setUnder(placeAt(e.clientX, e.currentTarget.getBoundingClientRect()))}
        onPointerLeave={() => setUnder(null)}
        onClick={(e) => {
          const byKey = e.detail === 0; // Enter on the button: where most is explained
          const at = byKey ? sweep.best : placeAt(e.clientX, e.currentTarget.getBoundingClientRect());
          if (at !== null) onGo?.(at);
        }}
      >
        <svg viewBox={`0 0 ${WIDE} ${HIGH}`} width={WIDE} height={HIGH} aria-hidden="true">
          <path d={`${path(sweep.explains)}L${WIDE} ${HIGH}L0 ${HIGH}Z`} className="fill-primary/30" />
          <path d={path(sweep.changes)} className="fill-none stroke-base-content/60" strokeWidth={1} />
          {sweep.standing.map((at) => (
            <line
              key={at}
              x1={x(at)}
              x2={x(at)}
              y1={HIGH - 12}
              y2={HIGH}
              className="stroke-base-content"
              strokeWidth={2}
            />
          ))}
          {sweep.best !== null && <circle cx={x(sweep.best)} cy={5} r={3.5} className="fill-primary" />}
          {under !== null && (
            <line
              x1={x(under)}
              x2={x(under)}
              y1={0}
              y2={HIGH}
              className="stroke-primary"
              strokeDasharray="3 2"
            />
          )}
        </svg>
      </button>
      {sweep.best !== null && onGo ? (
        <button
          type="button"
          className="link self-start text-left"
          onClick={() => sweep.best !== null && onGo(sweep.best)}
        >
          At {said(sweep.best)}: {sweep.through.join(", ")}
        </button>
      ) : (
        <span className="opacity-85">Nothing here that no section goes through.</span>
      )}
    </figure>
  );
}
