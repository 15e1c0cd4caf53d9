import type { Drawing } from "../../api/client";
import { type CallsTo, useBench } from "../../desk/drawings-state";

const SHAPES = ["rectangle", "circle", "polygon"] as const;
const FORMS: [CallsTo, string][] = [
  ["detail", "a detail"],
  ["wall", "a wall section"],
  ["plan", "an enlarged plan"],
  ["blank", "a blank detail"],
];
const NEXT = {
  rectangle: ["Click a corner.", "Click the opposite corner."],
  circle: ["Click its middle.", "Click how far it reaches."],
  polygon: ["Click its corners.", "Click on; Enter closes it."],
} as const;

/** While a region is drawn: its shape, what it becomes, and the next step. */
export function CallingBar({ drawings }: { drawings: Drawing[] }) {
  const { calling, setCalling } = useBench();
  if (!calling) return null;
  const to = String(calling.to);
  return (
    <span className="flex items-center gap-1.5">
      <span className="min-w-0 flex-1 truncate">
        {NEXT[calling.shape][calling.points.length > 0 ? 1 : 0]} Esc leaves.
      </span>
      <select
        aria-label="Shape of the region"
        className="select select-xs w-24 shrink-0"
        value={calling.shape}
        onChange={(event) =>
          setCalling({ ...calling, shape: event.target.value as (typeof SHAPES)[number], points: [] })
        }
      >
        {SHAPES.map((shape) => (
          <option key={shape}>{shape}</option>
        ))}
      </select>
      <select
        aria-label="What it becomes"
        className="select select-xs w-32 shrink-0"
        value={to}
        onChange={(event) => {
          const form = FORMS.find(([key]) => key === event.target.value);
          setCalling({ ...calling, to: form ? form[0] : Number(event.target.value) });
        }}
      >
        {FORMS.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
        <optgroup label="A drawing that is there">
          {drawings.map((d) => (
            <option key={d.id} value={d.id}>
              {d.title}
            </option>
          ))}
        </optgroup>
      </select>
    </span>
  );
}
