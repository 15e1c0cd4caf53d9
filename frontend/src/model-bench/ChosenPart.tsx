import { useNavigate } from "react-router";
import type { Drawing } from "../api/client";
import { Part } from "../fields/Part";

type Props = {
  drawing: Drawing;
  problem: string;
  onTakeUp: () => void;
  onSquare: () => void;
};

/** The drawing that opens the model. */
export function ChosenPart({ drawing, problem, onTakeUp, onSquare }: Props) {
  const navigate = useNavigate();
  return (
    <Part title={drawing.title}>
      {problem && (
        <p role="alert" className="text-error">
          {problem}
        </p>
      )}
      <div className="flex flex-wrap gap-1">
        <button type="button" className="btn btn-xs" onClick={onTakeUp}>
          Move its plane
        </button>
        <button
          type="button"
          className="btn btn-xs"
          onClick={() => navigate(`/projects/${drawing.project_id}?drawing=${drawing.id}`)}
        >
          Open the drawing
        </button>
        <button type="button" className="btn btn-xs" onClick={onSquare}>
          Look square onto it
        </button>
      </div>
    </Part>
  );
}
