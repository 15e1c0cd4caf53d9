import type { Drawing, Marker } from "../../api/client";
import { Part } from "../../fields/Part";

type Props = {
  drawing: Drawing;
  drawings: Drawing[];
  shown: Marker[];
  onChoose: (drawing: number) => void;
};
const LISTED = 40;

/** All ways in and out of a drawing: where it was cut, what was cut from it, and whose markers it shows. */
export function WaysPart({ drawing, drawings, shown, onChoose }: Props) {
  const from = drawings.filter((d) => d.id === drawing.parent_id);
  const below = drawings.filter((d) => d.parent_id === drawing.id);
  const shows = new Set(shown.map((m) => m.drawing));
  const marked = drawings.filter((d) => shows.has(d.id) && d.parent_id !== drawing.id);
  const groups = [
    ["Cut on", from],
    ["Cut from this one", below],
    ["Also marked here", marked.filter((d) => !from.includes(d))],
  ] as const;
  if (groups.every(([, list]) => list.length === 0)) return null;
  return (
    <Part title="Ways in and out">
      {groups.map(([title, list]) =>
        list.length > 0 ? (
          <div key={title}>
            <p className="text-xs opacity-85">{title}</p>
            <ul className="flex flex-col items-start text-xs">
              {list.slice(0, LISTED).map((d) => (
                <li key={d.id} className="max-w-full">
                  <button
                    type="button"
                    className="link block max-w-full truncate"
                    onClick={() => onChoose(d.id)}
                  >
                    {d.title}
                  </button>
                </li>
              ))}
              {list.length > LISTED && <li>and {list.length - LISTED} more</li>}
            </ul>
          </div>
        ) : null,
      )}
    </Part>
  );
}
