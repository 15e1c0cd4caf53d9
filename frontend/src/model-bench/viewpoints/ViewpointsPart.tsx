import { ArrowDown, ArrowUp, Play, Trash2, TriangleAlert } from "lucide-react";
import type { Project, Seen, Viewpoint } from "../../api/client";
import { deleteViewpoint, editViewpoint, keepViewpoint, orderViewpoints } from "../../api/viewpoints";
import { NameForm } from "../../fields/NameForm";
import { Part } from "../../fields/Part";
import { TextField } from "../../fields/TextField";
import { useModelBench } from "../../model/model-state";

type Props = {
  project: Project;
  viewpoints: Viewpoint[];
  /** All of the view as it is now. */
  seen: (says: string) => Seen | null;
  onGo: (viewpoint: Viewpoint) => void;
  onPresent: () => void;
  onPictures: (of: Viewpoint[]) => void;
};

/** Views of the model that are kept: gone to with a click, changed, put in an order, shown one after the other. */
export function ViewpointsPart({ project, viewpoints, seen, onGo, onPresent, onPictures }: Props) {
  const at = useModelBench((s) => s.viewpoint);
  const set = useModelBench((s) => s.set);
  const chosen = viewpoints.find((v) => v.id === at);
  const keep = async (name: string) => {
    const now = seen("");
    const made = now && (await keepViewpoint(project.id, name, now));
    if (made) set({ viewpoint: made.id });
  };
  return (
    <Part title="Viewpoints">
      {viewpoints.length === 0 && (
        <p className="opacity-85">Keep how you look at the model now; a presentation walks through all.</p>
      )}
      <ol aria-label="Viewpoints" className="max-h-64 overflow-y-auto">
        {viewpoints.map((one, k) => (
          <li key={one.id} className="flex items-center gap-1">
            <span className="figures w-4 shrink-0 text-right text-xs opacity-85">{k + 1}</span>
            <button
              type="button"
              aria-pressed={one.id === at}
              className={`min-w-0 flex-1 truncate rounded px-1 text-left hover:bg-base-300 ${one.id === at ? "bg-base-300 font-semibold" : ""}`}
              title={one.lost.join(" ") || one.name}
              onClick={() => onGo(one)}
            >
              {one.name}
            </button>
            {one.lost.length > 0 && (
              <TriangleAlert size={12} role="img" aria-label={one.lost.join(" ")} className="shrink-0" />
            )}
          </li>
        ))}
      </ol>
      {chosen && (
        <Chosen
          key={chosen.id}
          project={project}
          viewpoints={viewpoints}
          one={chosen}
          seen={seen}
          onPicture={() => onPictures([chosen])}
        />
      )}
      <NameForm label="A new viewpoint" placeholder="Name for this view" act="Keep" onName={keep} />
      {viewpoints.length > 0 && (
        <div className="flex gap-1">
          <button type="button" className="btn btn-xs flex-1" onClick={onPresent}>
            <Play size={12} /> Present
          </button>
          <button type="button" className="btn btn-xs flex-1" onClick={() => onPictures(viewpoints)}>
            Pictures of all
          </button>
        </div>
      )}
    </Part>
  );
}

type ChosenProps = Pick<Props, "project" | "viewpoints" | "seen"> & { one: Viewpoint; onPicture: () => void };

/** The viewpoint that was gone to: its name and words, its place among the others, and how it is seen. */
function Chosen({ project, viewpoints, one, seen, onPicture }: ChosenProps) {
  const ids = viewpoints.map((v) => v.id);
  const at = ids.indexOf(one.id);
  const move = (by: number) => {
    const next = ids.filter((id) => id !== one.id);
    next.splice(at + by, 0, one.id);
    return orderViewpoints(project.id, next);
  };
  const anew = () => {
    const now = seen(one.seen.says);
    if (now) editViewpoint(project.id, one, { seen: now });
  };
  return (
    <fieldset aria-label={`Viewpoint ${one.name}`} className="flex flex-col gap-1 rounded bg-base-200 p-1.5">
      <TextField
        label="Name"
        value={one.name}
        most={80}
        onEnter={(name) => editViewpoint(project.id, one, { name })}
      />
      <TextField
        label="Says"
        value={one.seen.says}
        most={400}
        mayBeEmpty
        placeholder="shown with it"
        onEnter={(says) => editViewpoint(project.id, one, { seen: { ...one.seen, says } })}
      />
      <div className="flex flex-wrap gap-1">
        <button type="button" className="btn btn-xs" title="Let it be seen as it is now" onClick={anew}>
          As it is now
        </button>
        <button type="button" className="btn btn-xs" onClick={onPicture}>
          Picture
        </button>
        <button
          type="button"
          className="btn btn-xs btn-square"
          aria-label="Earlier"
          disabled={at === 0}
          onClick={() => move(-1)}
        >
          <ArrowUp size={12} />
        </button>
        <button
          type="button"
          className="btn btn-xs btn-square"
          aria-label="Later"
          disabled={at === ids.length - 1}
          onClick={() => move(1)}
        >
          <ArrowDown size={12} />
        </button>
        <button
          type="button"
          className="btn btn-xs btn-square"
          aria-label={`Delete the viewpoint ${one.name}`}
          onClick={() => deleteViewpoint(project.id, one.id)}
        >
          <Trash2 size={12} />
        </button>
      </div>
    </fieldset>
  );
}
