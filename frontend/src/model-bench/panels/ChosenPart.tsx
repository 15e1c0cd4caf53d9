import { useNavigate } from "react-router";
import type { Drawing } from "../../api/client";
import { CopyFields } from "../../drawing/CopyFields";
import { Part } from "../../fields/Part";

type Props = {
  drawing: Drawing;
  problem: string;
  /** Its plane is known. */
  ready: boolean;
  onTakeUp: () => void;
  onSquare: () => void;
  /** A copy was made. */
  onMade: (drawing: number) => void;
};

/** The drawing that opens the model. */
export function ChosenPart({ drawing, problem, ready, onTakeUp, onSquare, onMade }: Props) {
  const navigate = useNavigate();
  return (
    <Part title={drawing.title}>
      {problem && (
        <p role="alert" className="text-error">
          {problem}
        </p>
      )}
      <div className="flex flex-wrap gap-1">
        <button type="button" className="btn btn-xs" disabled={!ready} onClick={onTakeUp}>
          Move its plane
        </button>
        <button
          type="button"
          className="btn btn-xs"
          onClick={() => navigate(`/projects/${drawing.project_id}?drawing=${drawing.id}`)}
        >
          Open the drawing
        </button>
        <button type="button" className="btn btn-xs" disabled={!ready} onClick={onSquare}>
          Look square onto it
        </button>
      </div>
      {drawing.cut.kind === "section" && !drawing.callout && <CopyFields drawing={drawing} onMade={onMade} />}
    </Part>
  );
}
