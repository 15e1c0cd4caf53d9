import { Part } from "../../fields/Part";
import { turned, type V3 } from "../../model/opening/opening";

/** Corners of the building from which all three of its directions are seen alike (ISO 5456-3, 5.2). */
const CORNERS: readonly (readonly [string, V3])[] = [
  ["front left", [-1, -1, 1]],
  ["front right", [1, -1, 1]],
  ["back right", [1, 1, 1]],
  ["back left", [-1, 1, 1]],
];

type Props = {
  turn: number;
  opened: boolean;
  onLook: (towards: V3) => void;
  onDraw: (perspective: boolean) => void;
};

/** The building as it is seen here, opened as it is, as a drawing. */
export function ViewPart({ turn, opened, onLook, onDraw }: Props) {
  return (
    <Part title="As it is seen">
      <fieldset className="flex flex-col gap-1">
        <legend className="opacity-80">Isometric, from its corner</legend>
        <span className="grid grid-cols-2 gap-1">
          {CORNERS.map(([name, towards]) => (
            <button
              key={name}
              type="button"
              className="btn btn-xs"
              onClick={() => onLook(turned({ point: [0, 0, 0], normal: towards }, [0, 0, 1], turn).normal)}
            >
              {name}
            </button>
          ))}
        </span>
      </fieldset>
      <div className="flex flex-col gap-1">
        <button type="button" className="btn btn-primary btn-xs" onClick={() => onDraw(false)}>
          Parallel drawing of it
        </button>
        <button type="button" className="btn btn-xs" onClick={() => onDraw(true)}>
          Drawing in perspective
        </button>
      </div>
      <p className="opacity-80">
        {opened
          ? "Opened as it is here; what the openings cut is hatched in its own planes."
          : "All of the building. A plane, cuts that are chosen, or a box open it."}
      </p>
    </Part>
  );
}
