import { Trash2 } from "lucide-react";
import type { Cut, Extents } from "../../api/client";
import { Check } from "../../fields/Choice";
import { LengthField } from "../../fields/LengthField";
import { Part } from "../../fields/Part";
import { useCommand } from "../../shell/commands";
import { OPEN_EXTENTS, withExtents } from "../cutting/plan-geometry";
import { startBreak } from "./break-tool";

const EDGES = ["left", "right", "base", "top"] as const;
const WORDS = { u: "across", v: "upwards" } as const;

/** What is taken out of a drawing, and which of its edges end with a break line. */
export function BreaksPart({ cut, onSave }: { cut: Cut; onSave: (change: { cut: Cut }) => void }) {
  const extents = { ...OPEN_EXTENTS, ...cut.extents };
  const save = (change: Partial<Extents>) => onSave({ cut: withExtents(cut, change) });
  useCommand({ name: "Break a part out", group: "Drawing", keys: "k", run: startBreak });
  return (
    <Part title="Breaks">
      <button
        type="button"
        className="btn btn-xs"
        onClick={(event) => {
          event.currentTarget.blur();
          startBreak();
        }}
      >
        Break a part out, or an edge <kbd className="kbd kbd-xs">K</kbd>
      </button>
      {extents.breaks.map((one, k) => {
        const set = (part: Partial<typeof one>) =>
          save({ breaks: extents.breaks.map((b, i) => (i === k ? { ...b, ...part } : b)) });
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: breaks are told apart by their place in the list
          <fieldset key={k} className="flex flex-col gap-0.5">
            <legend className="flex w-full items-center justify-between text-xs opacity-85">
              Taken out {WORDS[one.axis]}
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`Close break ${k + 1}`}
                title="Show this part again"
                onClick={() => save({ breaks: extents.breaks.filter((_, i) => i !== k) })}
              >
                <Trash2 size={12} />
              </button>
            </legend>
            <LengthField
              label={`Break ${k + 1} from`}
              value={one.start}
              onChange={(start) => start !== null && set({ start })}
            />
            <LengthField
              label={`Break ${k + 1} to`}
              value={one.end}
              onChange={(end) => end !== null && set({ end })}
            />
          </fieldset>
        );
      })}
      <p className="text-xs opacity-85">Break lines at the edges</p>
      <div className="grid grid-cols-2">
        {EDGES.map((edge) => (
          <Check
            key={edge}
            label={edge}
            checked={extents.broken.includes(edge)}
            onChange={(on) =>
              save({ broken: on ? [...extents.broken, edge] : extents.broken.filter((e) => e !== edge) })
            }
          />
        ))}
      </div>
      {extents.broken.length > 0 && (
        <Check
          label="across the whole edge"
          checked={extents.whole_edges}
          onChange={(whole_edges) => save({ whole_edges })}
        />
      )}
    </Part>
  );
}
