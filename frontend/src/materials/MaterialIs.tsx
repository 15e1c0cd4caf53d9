import { Undo2 } from "lucide-react";
import { useState } from "react";
import type { Element } from "../api/client";
import { sayOf, useMaterials } from "../api/materials";
import { useProject } from "../api/queries";
import { ClassChoice } from "./ClassChoice";
import { HatchChoice } from "./HatchChoice";
import {
  AS_USUAL,
  calledBy,
  type Place,
  placesOf,
  type SaidOf,
  saidOf,
  saidOfAll,
  type Where,
  words,
} from "./places";

/** What the material of what was picked is, and how it is hatched: everywhere, in its build-up, or here alone. */
export function MaterialIs({ project, elements }: { project: number; elements: Element[] }) {
  const [open, setOpen] = useState(false);
  const [where, setWhere] = useState<Where | null>(null);
  const { data: of } = useProject(project);
  const { data } = useMaterials(project, open);
  const places = placesOf(elements);
  if (!of || places.length === 0) return null;
  const called = calledBy(elements);
  const place = places.find((one) => one.where === where) ?? (places[0] as Place);
  const said = saidOfAll(of, place.said);
  const say = (change: Partial<SaidOf>) => sayOf(of, place.said, { ...(said ?? AS_USUAL), ...change });
  const kept = places.filter((one) => one.said.some((each) => saidOf(of, each)));
  return (
    <div className="flex flex-col gap-1 text-xs">
      {kept.map((one) => (
        <div key={one.where} className="flex items-center gap-1">
          <span className="min-w-0 wrap-anywhere">
            By us {one.says}: {words(saidOfAll(of, one.said))}
          </span>
          <button
            type="button"
            className="btn btn-ghost btn-xs btn-square"
            aria-label={`As the file says ${one.says}`}
            title={`As the file says ${one.says}`}
            onClick={() => sayOf(of, one.said, null)}
          >
            <Undo2 size={11} />
          </button>
        </div>
      ))}
      {!open ? (
        <button type="button" className="link self-start" onClick={() => setOpen(true)}>
          Say what {called} is
        </button>
      ) : (
        <div className="grid grid-cols-[5rem_minmax(0,1fr)] items-center gap-1">
          <span className="opacity-80">Where</span>
          <select
            className="select select-xs w-full min-w-0 max-w-full overflow-hidden pr-7 text-ellipsis"
            aria-label="Where this is said"
            value={place.where}
            onChange={(event) => setWhere(event.target.value as Where)}
          >
            {places.map((one) => (
              <option key={one.where} value={one.where}>
                {one.says}
              </option>
            ))}
          </select>
          <span className="opacity-80">Drawn as</span>
          <ClassChoice
            label="What it is"
            value={said?.is_a ?? ""}
            usual="as the file says"
            classes={data?.classes ?? []}
            onChoose={(is) => say({ is_a: is })}
          />
          <span className="opacity-80">Hatched</span>
          <HatchChoice
            label="How it is hatched"
            value={said?.hatch ?? ""}
            hatches={data?.hatches ?? []}
            onChoose={(hatch) => say({ hatch })}
          />
        </div>
      )}
    </div>
  );
}
