import type { DrawingPlanes } from "../../api/client";
import { leafCorners } from "../opening/plane-geometry";

type Props = { planes: DrawingPlanes[]; chosen: number | null; onChoose: (drawing: number) => void };

/** The letters of cuts, each at a corner of its plane; a click opens the model there. */
export function Letters({ planes, chosen, onChoose }: Props) {
  return planes
    .filter((p) => p.letter)
    .map((p) => {
      const at = p.leaves[0] && leafCorners(p.leaves[0])[3];
      return (
        at && (
          <button
            key={p.drawing}
            type="button"
            data-at={at.join(",")}
            className={`btn btn-circle btn-xs pointer-events-auto absolute top-0 left-0 ${p.drawing === chosen ? "btn-primary" : "opacity-80"}`}
            aria-label={`Open at ${p.title}`}
            title={p.title}
            onClick={() => onChoose(p.drawing)}
          >
            {p.letter}
          </button>
        )
      );
    });
}
