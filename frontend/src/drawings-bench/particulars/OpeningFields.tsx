import { X } from "lucide-react";
import type { PlaneCut } from "../../api/client";
import { LengthField } from "../../fields/LengthField";
import { alongAxis, movedTo, placeOf, takesWords } from "../../model/opening/taking-planes";

type Opening = NonNullable<PlaneCut["openings"]>[number];

/** What opens a view: each opening takes away what lies before all of its planes. */
export function OpeningFields({ cut, onSave }: { cut: PlaneCut; onSave: (cut: PlaneCut) => void }) {
  const openings = cut.openings ?? [];
  const change = (k: number, next: Opening | null) =>
    onSave({ ...cut, openings: openings.flatMap((one, i) => (i !== k ? [one] : next ? [next] : [])) });
  if (openings.length === 0) return <p className="opacity-80">Nothing opens this view.</p>;
  return (
    <>
      {openings.map((opening, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: openings are told apart by their place in the list
        <fieldset key={k} className="flex flex-col gap-0.5 border-l-2 border-base-300 pl-1.5">
          <legend className="flex w-full items-center opacity-80">
            <span className="flex-1">Opening {k + 1} takes what lies</span>
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              aria-label={`Close opening ${k + 1}`}
              onClick={() => change(k, null)}
            >
              <X size={12} />
            </button>
          </legend>
          {opening.planes.map((plane, j) => (
            <LengthField
              // biome-ignore lint/suspicious/noArrayIndexKey: planes are told apart by their place in the opening
              key={j}
              label={takesWords(plane)}
              value={placeOf(plane) * alongAxis(plane)}
              onChange={(at) => {
                if (at === null) return;
                const moved = movedTo(plane, at * alongAxis(plane));
                change(k, { planes: opening.planes.map((one, i) => (i === j ? moved : one)) });
              }}
            />
          ))}
        </fieldset>
      ))}
    </>
  );
}
