import type { Drawing, Standard, Sun } from "../../api/client";
import { useShownSets, useStandards } from "../../api/queries";
import { SunFields } from "../../drawing/SunFields";
import { Check, Choice } from "../../fields/Choice";
import { Part } from "../../fields/Part";
import { AS_DRAWN, type Colours, type Removed, useModelBench } from "../../model/model-state";
import { STRAIGHT_VIEWS } from "../../model/view/view-acts";

const REMOVED: readonly (readonly [Removed, string])[] = [
  ["gone", "is gone"],
  ["ghost", "shows as a ghost"],
  ["outline", "shows in outline"],
];
const COLOURS: readonly (readonly [Colours, string])[] = [
  ["material", "by material"],
  ["kind", "by kind"],
];

/** The sun of a drawing; at first, and of none, in the south-west. */
function sunOf(like: Drawing | undefined, standards: Standard[]): Sun {
  const usual: Sun = { by: "bearing", bearing: 225, height: 45, latitude: null, longitude: null, when: null };
  const standard = standards.find((s) => s.key === like?.style.standard);
  const said =
    like && (like.style.surfaces?.sun ?? standard?.document.appearances?.[like.style.appearance]?.sun);
  return said ?? usual;
}

type Props = {
  project: number;
  usual: string;
  /** Whether a drawing opens the model. */
  drawn: boolean;
  /** The drawing whose cut opens the model. */
  like: Drawing | undefined;
  onView: (name: string) => void;
  onFit: () => void;
};

/** How the model shows, and straight views of it. */
export function ShowPart({ project, usual, drawn, like, onView, onFit }: Props) {
  const { sun, removed, colours, flat, elements, shownSet, standard, ghost, set } = useModelBench();
  const { data: sets = [] } = useShownSets(project);
  const { data: standards = [] } = useStandards(project);
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
      <Choice
        label="Standard"
        value={standard || usual}
        options={standards.map((s) => [s.key, s.name] as const)}
        onChange={(to) => set({ standard: to })}
      />
      <Choice
        label="Shown set"
        value={shownSet}
        options={[
          ["", "none"],
          ...(drawn || shownSet === AS_DRAWN ? ([[AS_DRAWN, "as the drawing has it"]] as const) : []),
          ...sets.map((s) => [s.key, s.name] as const),
        ]}
        onChange={(to) => set({ shownSet: to })}
      />
      <Check label="Ghost what is hidden" checked={ghost} onChange={(on) => set({ ghost: on })} />
      <Check
        label="Sun and shadows"
        checked={sun !== null}
        onChange={(on) => set({ sun: on ? sunOf(like, standards) : null })}
      />
      {sun && <SunFields sun={sun} onChange={(next) => set({ sun: next })} />}
      {elements.size > 0 && (
        <button type="button" className="btn btn-xs" onClick={() => set({ elements: new Set() })}>
          Show the {elements.size} hidden elements
        </button>
      )}
    </Part>
  );
}
