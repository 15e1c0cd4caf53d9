import type { Drawing, PlaneCutFound, Solid, Stop } from "../../api/client";
import { Choice } from "../../fields/Choice";
import { LengthField } from "../../fields/LengthField";
import { NumberField } from "../../fields/NumberField";
import { Part } from "../../fields/Part";
import { type Lock, useModelBench } from "../../model/model-state";
import { axesOf, dot, type Plane, plus, turned, turnedRound, type V3 } from "../../model/opening/opening";
import { isTurned, lockOf, middleOf, squared } from "../../model/opening/plane-geometry";

const LOCKS: readonly (readonly [Lock, string])[] = [
  ["face", "as the face"],
  ["x", "square to X"],
  ["y", "square to Y"],
  ["z", "level"],
];
const OWN: typeof LOCKS = [
  ["along", "square to its length"],
  ["across", "square to its width"],
];
const NEAREST = 1; // metres to either side in which stops are offered

type Props = {
  plane: Plane;
  found: PlaneCutFound | null;
  problem: string;
  stops: Stop[];
  solid: Solid;
  /** The drawing that the plane was taken up from. */
  like: Drawing | undefined;
  /** Drawings that could lie in this plane. */
  takers: Drawing[];
  onPlane: (plane: Plane) => void;
  onDraw: (how: { perspective?: boolean; keep?: boolean }) => void;
  onGive: (drawing: Drawing) => void;
  onSquare: () => void;
  /** Turn the plane square to the view. */
  onFace: () => void;
  onLeave: () => void;
};

/** The plane that is looked for: where it lies, how it is turned, and what it becomes. */
export function PlanePart(props: Props) {
  const {
    plane,
    found,
    problem,
    stops,
    solid,
    like,
    takers,
    onPlane,
    onDraw,
    onGive,
    onSquare,
    onFace,
    onLeave,
  } = props;
  const { thickness, set } = useModelBench();
  const { u } = axesOf(plane);
  const middle = middleOf(solid);
  const at = dot(plane.point, plane.normal);
  const move = (to: number) => onPlane({ ...plane, point: plus(plane.point, plane.normal, to - at) });
  const turn = (axis: V3, degrees: number) => onPlane(turned(plane, axis, degrees));
  const near = stops.filter((s) => Math.abs(s.at - at) < NEAREST).slice(0, 8);
  return (
    <Part title="Plane">
      <LengthField label="Along its normal" value={at} onChange={(to) => to !== null && move(to)} />
      {near.length > 0 && (
        <select
          className="select select-xs w-full"
          aria-label="Stops near it"
          value=""
          onChange={(event) => move(Number(event.target.value))}
        >
          <option value="">Bring it to …</option>
          {near.map((s) => (
            <option key={`${s.at} ${s.says}`} value={s.at}>
              {s.says}
            </option>
          ))}
        </select>
      )}
      <div className="flex flex-wrap gap-1">
        <button type="button" className="btn btn-xs" onClick={() => onPlane(turnedRound(plane))}>
          Turn round
        </button>
        <button type="button" className="btn btn-xs" onClick={() => turn([0, 0, 1], 90)}>
          Turn 90°
        </button>
        <button type="button" className="btn btn-xs" onClick={() => turn(u, 90)}>
          Tip 90°
        </button>
        <button
          type="button"
          className="btn btn-xs"
          onClick={() =>
            onPlane({ ...plane, point: plus(plane.point, plane.normal, dot(middle, plane.normal) - at) })
          }
        >
          Centre
        </button>
        <button type="button" className="btn btn-xs" onClick={onFace}>
          Square to the view
        </button>
      </div>
      <NumberField
        label="Turn by"
        unit="°"
        value={null}
        placeholder="about up"
        onChange={(d) => turn([0, 0, 1], d)}
      />
      <NumberField
        label="Tip by"
        unit="°"
        value={null}
        placeholder="about level"
        onChange={(d) => turn(u, d)}
      />
      <Choice
        label="Direction"
        value={lockOf(plane, solid.turn)}
        options={isTurned(solid) ? [...LOCKS, ...OWN] : LOCKS}
        onChange={(lock) => lock !== "face" && onPlane(squared(plane, lock, solid.turn))}
      />
      <LengthField
        label="Slice"
        value={thickness}
        placeholder="all behind it"
        least={0.01}
        mayBeEmpty
        onChange={(thick) => set({ thickness: thick })}
      />
      {problem ? (
        <p role="alert" className="text-error">
          {problem}
        </p>
      ) : (
        <p className="text-xs opacity-85">{found ? `Gives a ${found.kind}.` : "…"}</p>
      )}
      <div className="flex flex-wrap gap-1">
        <button type="button" className="btn btn-primary btn-xs" disabled={!found} onClick={() => onDraw({})}>
          Make it a drawing
        </button>
        <button
          type="button"
          className="btn btn-xs"
          disabled={!found || found.kind === "plan" || found.kind === "ceiling plan"}
          onClick={() => onDraw({ perspective: true })}
        >
          In perspective
        </button>
        <button
          type="button"
          className="btn btn-xs"
          disabled={!found}
          title="The plane stays, to be moved or turned for the next one"
          onClick={() => onDraw({ keep: true })}
        >
          Make it and go on
        </button>
        {like && (
          <button type="button" className="btn btn-xs" disabled={!found} onClick={() => onGive(like)}>
            Give it to {like.title}
          </button>
        )}
        <button type="button" className="btn btn-xs" onClick={onSquare}>
          Look square onto it
        </button>
        <button type="button" className="btn btn-ghost btn-xs" onClick={onLeave}>
          Leave it
        </button>
      </div>
      {takers.length > 0 && (
        <select
          className="select select-xs w-full"
          aria-label="Give it to another drawing"
          value=""
          onChange={(event) => {
            const taker = takers.find((d) => d.id === Number(event.target.value));
            if (taker) onGive(taker);
          }}
        >
          <option value="">Give it to …</option>
          {takers.map((d) => (
            <option key={d.id} value={d.id}>
              {d.title}
            </option>
          ))}
        </select>
      )}
    </Part>
  );
}
