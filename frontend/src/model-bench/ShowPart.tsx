import { Check, Choice } from "../fields/Choice";
import { Part } from "../fields/Part";
import { type Colours, type Removed, useModelBench } from "./bench-state";
import { STRAIGHT_VIEWS } from "./view-acts";

const REMOVED: readonly (readonly [Removed, string])[] = [
  ["gone", "is gone"],
  ["ghost", "shows as a ghost"],
  ["outline", "shows in outline"],
];
const COLOURS: readonly (readonly [Colours, string])[] = [
  ["material", "by material"],
  ["kind", "by kind"],
];

type Props = { onView: (name: string) => void; onFit: () => void };

/** How the model shows, and straight views of it. */
export function ShowPart({ onView, onFit }: Props) {
  const { removed, colours, flat, elements, set } = useModelBench();
  return (
    <Part title="View">
      <div className="flex flex-wrap gap-1">
        {STRAIGHT_VIEWS.map((name) => (
          <button key={name} type="button" className="btn btn-xs" onClick={() => onView(name)}>
            {name}
          </button>
        ))}
        <button type="button" className="btn btn-xs" onClick={onFit}>
          all of it
        </button>
      </div>
      <Check label="Flat, without perspective" checked={flat} onChange={(on) => set({ flat: on })} />
      <Choice label="Cut away" value={removed} options={REMOVED} onChange={(to) => set({ removed: to })} />
      <Choice label="Colours" value={colours} options={COLOURS} onChange={(to) => set({ colours: to })} />
      {elements.size > 0 && (
        <button type="button" className="btn btn-xs" onClick={() => set({ elements: new Set() })}>
          Show the {elements.size} hidden elements
        </button>
      )}
    </Part>
  );
}
