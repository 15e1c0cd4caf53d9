import { Eye, EyeOff, Layers } from "lucide-react";
import { memo, type ReactNode, useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Drawing, DrawingPlanes, Project, SharedExtents } from "../../api/client";
import { Part } from "../../fields/Part";
import { turnedIn, useModelBench } from "../../model/model-state";
import { foundCuts, MANY } from "../../model/planes/found-cuts";

type Props = {
  project: Project;
  planes: DrawingPlanes[];
  drawings: Drawing[];
  boxes: SharedExtents[];
  onChoose: (drawing: number) => void;
  onStorey: (guid: string) => void;
};

/** What the model is made of and cut by: storeys, kinds, and the cuts of all drawings. */
export const ModelLists = memo(({ project, planes, drawings, boxes, onChoose, onStorey }: Props) => {
  const { opened, storey, kinds, seeThrough, drawing, others, find, set } = useModelBench(
    useShallow((s) => ({
      opened: s.box?.id,
      storey: s.storey,
      kinds: s.kinds,
      seeThrough: s.seeThrough,
      drawing: s.drawing,
      others: s.others,
      find: s.find,
      set: s.set,
    })),
  );
  const cuts = useMemo(() => foundCuts(planes, drawings, find), [planes, drawings, find]);
  return (
    <>
      <Part title="Cuts">
        {planes.length > MANY && (
          <input
            type="search"
            className="input input-xs w-full"
            aria-label="Find cuts"
            placeholder="Find by letter or name"
            value={find}
            onChange={(event) => set({ find: event.target.value })}
          />
        )}
        <ul aria-label="Cuts" className="max-h-64 overflow-y-auto">
          {cuts.map((p) => (
            <li
              key={p.drawing}
              className="flex items-center gap-1"
              onPointerEnter={() => set({ pointed: p.drawing })}
              onPointerLeave={() => set({ pointed: null })}
            >
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                aria-label={`Open together with ${p.title}`}
                title="Open the model by this cut together with the others"
                checked={p.drawing === drawing || others.has(p.drawing)}
                disabled={p.drawing === drawing}
                onChange={() => set({ others: turnedIn(others, p.drawing) })}
              />
              <Row chosen={p.drawing === drawing} onClick={() => onChoose(p.drawing)}>
                {p.letter && <b className="figures">{p.letter}</b>} {p.title}
              </Row>
            </li>
          ))}
        </ul>
        {cuts.length > MANY && (
          <p className="text-xs opacity-85">
            The planes of the first {MANY} of {cuts.length} stand in the model; find others by a word.
          </p>
        )}
        {planes.length === 0 && <p className="opacity-85">No drawing yet: press C and click a face.</p>}
      </Part>
      {boxes.length > 0 && (
        <Part title="Shared extents">
          <ul aria-label="Shared extents">
            {boxes.map((b) => (
              <li key={b.id} className="flex">
                <Row
                  chosen={opened === b.id}
                  title={opened === b.id ? "Close the box" : "Show what lies in this box alone"}
                  onClick={() =>
                    set({
                      box: opened === b.id ? null : { id: b.id, now: b.box },
                      plane: null,
                      drawing: null,
                      others: new Set(),
                    })
                  }
                >
                  {b.name}
                </Row>
              </li>
            ))}
          </ul>
        </Part>
      )}
      <Part title="Storeys">
        <ul aria-label="Storeys">
          {[...project.facts.storeys]
            .sort((a, b) => b.elevation - a.elevation)
            .map((s) => (
              <li key={s.guid} className="flex items-center gap-1">
                <Row
                  chosen={false}
                  title="Look at it from above, opened where its plan is cut"
                  onClick={() => onStorey(s.guid)}
                >
                  <Layers size={12} className="inline" /> {s.name}
                </Row>
                <button
                  type="button"
                  aria-pressed={storey === s.guid}
                  aria-label={`Show ${s.name} alone`}
                  className={`btn btn-xs ${storey === s.guid ? "btn-active" : "btn-ghost"}`}
                  onClick={() => set({ storey: storey === s.guid ? "" : s.guid })}
                >
                  alone
                </button>
              </li>
            ))}
        </ul>
      </Part>
      <Part title="Kinds">
        <ul aria-label="Kinds">
          {Object.entries(project.facts.kinds).map(([kind, count]) => (
            <li key={kind} className="flex items-center gap-1">
              <button
                type="button"
                aria-label={`${kinds.has(kind) ? "Show" : "Hide"} every ${kind}`}
                aria-pressed={!kinds.has(kind)}
                className="btn btn-ghost btn-xs btn-square"
                onClick={() => set({ kinds: turnedIn(kinds, kind) })}
              >
                {kinds.has(kind) ? <EyeOff size={12} /> : <Eye size={12} />}
              </button>
              <span className={`min-w-0 flex-1 truncate ${kinds.has(kind) ? "opacity-60" : ""}`}>
                {kind} <span className="figures text-xs opacity-85">{count}</span>
              </span>
              <button
                type="button"
                aria-pressed={seeThrough.has(kind)}
                className={`btn btn-xs ${seeThrough.has(kind) ? "btn-active" : "btn-ghost"}`}
                onClick={() => set({ seeThrough: turnedIn(seeThrough, kind) })}
              >
                through
              </button>
            </li>
          ))}
        </ul>
      </Part>
    </>
  );
});

type RowProps = { chosen: boolean; title?: string; onClick: () => void; children: ReactNode };

function Row({ chosen, title, onClick, children }: RowProps) {
  return (
    <button
      type="button"
      aria-pressed={chosen}
      title={title}
      className={`min-w-0 flex-1 truncate rounded px-1 text-left hover:bg-base-300 ${chosen ? "bg-base-300 font-semibold" : ""}`}
      onClick={onClick}
    >
      {children}
    </button>
  );
}
