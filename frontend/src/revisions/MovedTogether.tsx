import type { Unsettled } from "../api/client";
import { useDrawings } from "../api/queries";
import { SmallDrawing } from "../drawing/SmallDrawing";
import type { Frame } from "../drawing/screen-form";
import { WhenSeen } from "../drawing/WhenSeen";
import { useLengths } from "../fields/lengths";
import { type Together, whereMost } from "./moved-alike";

const AIR = 15; // mm on paper around what is shown
const AXES = ["x", "y", "z"];

type Props = { project: number; together: Together; onGo: (one: Unsettled) => void; onAccept: () => void };

/** Many that moved with the model by one and the same: one picture, one act. */
export function MovedTogether({ project, together, onGo, onAccept }: Props) {
  const { data: drawings = [] } = useDrawings(project);
  const lengths = useLengths();
  const { drawing, box } = whereMost(together.of);
  const spec = drawings.find((d) => d.id === drawing);
  const first = together.of.find((one) => one.drawing_id === drawing);
  const around: Frame | null = box && [box[0] - AIR, box[1] - AIR, box[2] + AIR, box[3] + AIR];
  const by = together.moved.flatMap((mm, k) => (mm ? [`${lengths.say(mm / 1000)} along ${AXES[k]}`] : []));
  const inDrawings = new Set(together.of.map((one) => one.drawing_id)).size;
  return (
    <li className="flex gap-2 rounded border border-base-300 bg-base-100 p-1.5">
      <button
        type="button"
        title="Go there"
        className="film flex h-20 w-28 shrink-0 items-center justify-center overflow-hidden"
        onClick={() => first && onGo(first)}
      >
        <WhenSeen>
          {spec && <SmallDrawing project={project} spec={spec} width={110} height={78} box={around} />}
        </WhenSeen>
      </button>
      <div className="flex min-w-0 flex-1 flex-col gap-1">
        <span>
          <b className="text-warning">≈ {together.of.length} moved together</b> by {by.join(", ")}, in{" "}
          {inDrawings} {inDrawings === 1 ? "drawing" : "drawings"}
        </span>
        <button type="button" className="btn btn-xs self-start" onClick={onAccept}>
          Accept all {together.of.length}
        </button>
      </div>
    </li>
  );
}
