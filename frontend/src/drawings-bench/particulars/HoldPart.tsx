import { useState } from "react";
import type { Drawing, Held } from "../../api/client";
import { holdDrawing, letGo, takeOver, useHeld } from "../../api/holding";
import { Part } from "../../fields/Part";
import { useCompare } from "../../revisions/compare-state";

const WORDS = { added: "new", removed: "gone", changed: "changed", renamed: "" } as const;

/** Whether the drawing stays as it is while the model changes; what has changed since, and taking that over. */
export function HoldPart({ drawing, revision }: { drawing: Drawing; revision: number }) {
  const { data: held, error } = useHeld(drawing, revision);
  if (drawing.callout)
    return drawing.cut.held ? (
      <Part title="Hold">
        <p className="text-xs">Held with the drawing that it was called out from.</p>
      </Part>
    ) : null;
  if (!drawing.cut.held)
    return (
      <Part title="Hold">
        <button
          type="button"
          className="btn btn-xs"
          title="It then shows this state of the model, whatever changes, until it is let go"
          onClick={() => holdDrawing(drawing)}
        >
          Hold as revision {revision} has it
        </button>
      </Part>
    );
  return (
    <Part title="Hold">
      <p className="text-xs">
        Held by revision {drawing.cut.held.revision}
        {revision > drawing.cut.held.revision ? `; the newest is ${revision}.` : ", the newest."}
        {held && held.taken > 0 && ` ${held.taken} taken over.`}
      </p>
      {error && <p role="alert">{error.message}</p>}
      {held?.problem && <p role="alert">{held.problem}</p>}
      {held && <Changes key={drawing.version} drawing={drawing} held={held} />}
      <div className="flex flex-wrap gap-1">
        {revision > drawing.cut.held.revision && (
          <button type="button" className="btn btn-xs" onClick={() => holdDrawing(drawing)}>
            Take over all
          </button>
        )}
        <button type="button" className="btn btn-xs" onClick={() => letGo(drawing)}>
          Let go
        </button>
      </div>
    </Part>
  );
}

function Changes({ drawing, held }: { drawing: Drawing; held: Held }) {
  const [wanted, setWanted] = useState<string[]>([]);
  const setEarlier = useCompare((s) => s.setEarlier);
  const earlier = useCompare((s) => s.earlier);
  if (held.newest === held.revision) return null;
  const others = held.otherwise > 0 ? `; ${held.otherwise} others that it does not show` : "";
  if (held.changed.length === 0)
    return <p className="text-xs">Nothing that it shows has changed since{others}.</p>;
  const known = held.changed.map((c) => c.guid);
  return (
    <>
      <p className="text-xs">Changed since, of what it shows{others}:</p>
      <ul className="flex max-h-48 flex-col gap-0.5 overflow-y-auto text-xs">
        {held.changed.map(({ guid, name, kind, what, how }) => (
          <li key={guid}>
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={wanted.includes(guid)}
                onChange={({ target }) =>
                  setWanted((old) => (target.checked ? [...old, guid] : old.filter((g) => g !== guid)))
                }
              />
              <span className="min-w-0 flex-1 truncate" title={name}>
                {name || kind}
              </span>
              <span className="opacity-85">{how.join(", ") || WORDS[what]}</span>
            </label>
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap gap-1">
        <button
          type="button"
          className="btn btn-xs"
          disabled={wanted.length === 0}
          onClick={() => takeOver(drawing, wanted)}
        >
          Take over these
        </button>
        <button
          type="button"
          className="btn btn-xs"
          onClick={() => setWanted(wanted.length === known.length ? [] : known)}
        >
          {wanted.length === known.length ? "Choose none" : "Choose all"}
        </button>
        <button
          type="button"
          className="btn btn-xs"
          aria-pressed={earlier === held.revision}
          onClick={() => setEarlier(earlier === held.revision ? null : held.revision)}
        >
          Show what changed
        </button>
      </div>
    </>
  );
}
