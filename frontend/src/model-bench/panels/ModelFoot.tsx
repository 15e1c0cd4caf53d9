import type { Project } from "../../api/client";
import { useLengths } from "../../fields/lengths";
import { levelAt } from "../../model/building/storeys";
import { useModelBench } from "../../model/model-state";
import { wholeMm } from "../../model/opening/plane-geometry";
import { useUnderPointer } from "../../model/view/under-pointer";

type Props = { project: Project; done: number; of: number };

/** The next step, what lies under the pointer, and how much of the model is there. */
export function ModelFoot({ project, done, of }: Props) {
  const { says, cutting, walking, plane, drawing } = useModelBench();
  const pointed = useUnderPointer((s) => s.hit);
  const { say } = useLengths();
  const level = pointed && levelAt(project, pointed.at[2]);
  return (
    <footer className="flex h-6 shrink-0 items-center gap-3 border-t border-base-300 bg-base-200 px-3 text-xs whitespace-nowrap">
      <span role="status" className="truncate">
        {says || hintOf(cutting, walking, plane !== null, drawing !== null)}
      </span>
      <span className="flex-1" />
      {pointed && (
        <span data-level={level?.name ?? ""} className="figures">
          {level && heightOver(level.name, pointed.at[2] - level.elevation, say)}
        </span>
      )}
      {of > 0 && done < of && (
        <progress
          className="progress progress-primary w-32"
          value={done}
          max={of}
          aria-label="Loading the model"
        />
      )}
      <span className="figures">{Math.round(of).toLocaleString("en")} triangles</span>
    </footer>
  );
}

const hintOf = (cutting: boolean, walking: boolean, plane: boolean, drawing: boolean) =>
  cutting
    ? "Click a face to cut there; X, Y, Z lock the direction, F follows the face, 1 to 3 choose where"
    : walking
      ? "Arrow keys or the wheel walk, drag to look about, Page up and down change the storey, Esc leaves"
      : plane
        ? "Drag the red grip, or type where it lies; Enter makes it a drawing, Esc leaves it"
        : drawing
          ? "Opened at its cut; press C to look for another one"
          : "Drag to turn, wheel to come nearer, C to cut";

function heightOver(level: string, height: number, say: (metres: number) => string): string {
  const whole = wholeMm(height);
  const sign = whole < 0 ? "−" : whole > 0 ? "+" : "±";
  return `${level} ${sign} ${say(Math.abs(whole))}`;
}
