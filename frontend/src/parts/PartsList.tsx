import { Pencil, Trash2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import type { ModelPart, PartEdit, RevisionTaken } from "../api/client";
import { editPart, removePart, usePartPicture, useParts } from "../api/parts";
import { report } from "../api/queries";
import { Choice } from "../fields/Choice";
import { TextField } from "../fields/TextField";
import { DISCIPLINES, type Discipline, disciplineWord } from "./disciplines";
import { PlaceFields } from "./PlaceFields";

/** The files that the model is put together from. */
export function PartsList({ project, revision }: { project: number; revision: number }) {
  const { data: parts = [] } = useParts(project);
  const [open, setOpen] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const act = async (does: () => Promise<RevisionTaken>) => {
    setBusy(true);
    try {
      const done = await does();
      toast.success(`Revision ${done.number}: ${done.recut} drawings see a change.`);
    } catch (error) {
      report(error);
    }
    setBusy(false);
  };
  return (
    <section className="flex flex-col gap-1 text-xs">
      <h3 className="font-semibold">{parts.length > 1 ? `${parts.length} parts` : "One part"}</h3>
      <ul aria-label="Parts of the model" className="flex flex-col gap-1">
        {parts.map((part) => (
          <li key={part.key} className="rounded border border-base-300 bg-base-100 px-2 py-1">
            <span className="flex items-center gap-1">
              <b className="min-w-0 truncate">{part.name}</b>
              <span className="flex-1 opacity-80">{disciplineWord(part.discipline)}</span>
              {part.leads && parts.length > 1 && (
                <span className="badge badge-xs" title="It gives storeys, grid and north">
                  leads
                </span>
              )}
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`Edit ${part.name}`}
                aria-expanded={open === part.key}
                onClick={() => setOpen(open === part.key ? null : part.key)}
              >
                <Pencil size={12} />
              </button>
            </span>
            <span className="block truncate opacity-85">
              {part.elements} elements
              {part.left_out > 0 && `, ${part.left_out} more that another part draws`} · {part.file_name} ·
              since revision {part.since}
            </span>
            {placeWords(part.place) && <span className="block opacity-85">{placeWords(part.place)}</span>}
            {part.differs > 0 && (
              <Link className="link block text-warning" to={`/projects/${project}/checks`}>
                ! {part.differs} of them differ from what is drawn: see the checks
              </Link>
            )}
            {open === part.key && (
              <PartFields
                project={project}
                revision={revision}
                part={part}
                others={parts.length > 1}
                busy={busy}
                onEdit={(edit) => act(() => editPart(project, part.key, edit))}
                onRemove={() => act(() => removePart(project, part.key))}
              />
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Where a part was put, in words; one that lies as its file says is not. */
function placeWords({ x, y, z, turn }: ModelPart["place"]): string {
  const by = [x, y, z].some((metres) => metres !== 0);
  return [
    by && `Moved by ${[x, y, z].map((metres) => Number(metres.toFixed(3))).join(" / ")} m`,
    turn !== 0 && `turned by ${Number(turn.toFixed(3))}°`,
  ]
    .filter(Boolean)
    .join(", ");
}

type FieldsProps = {
  project: number;
  revision: number;
  part: ModelPart;
  others: boolean;
  busy: boolean;
  onEdit: (edit: PartEdit) => void;
  onRemove: () => void;
};

function PartFields({ project, revision, part, others, busy, onEdit, onRemove }: FieldsProps) {
  const [tried, setTried] = useState<PartEdit>({});
  const [asked, setAsked] = useState(false);
  const { data: picture } = usePartPicture(project, part.key, tried, revision);
  const moved = tried.place !== undefined || tried.points !== undefined;
  return (
    <fieldset disabled={busy} className="flex flex-col gap-1.5 pt-1.5" aria-label={`Part ${part.name}`}>
      <TextField label="Name" labelWidth="w-20" value={part.name} onEnter={(name) => onEdit({ name })} />
      <Choice<Discipline>
        label="Discipline"
        value={part.discipline}
        options={DISCIPLINES}
        onChange={(discipline) => onEdit({ discipline })}
      />
      {others && (
        <>
          <PlaceFields
            place={tried.place ?? part.place}
            picture={picture}
            onPlace={(place) => setTried({ place })}
            onPoints={(points) => setTried({ points })}
          />
          {moved && (
            <span className="flex gap-1">
              <button
                type="button"
                className="btn btn-primary btn-xs"
                onClick={() => {
                  onEdit(tried);
                  setTried({});
                }}
              >
                Move it there
              </button>
              <button type="button" className="btn btn-xs" onClick={() => setTried({})}>
                Leave it
              </button>
            </span>
          )}
          {!part.leads && (
            <span className="flex flex-wrap gap-1">
              <button type="button" className="btn btn-xs" onClick={() => onEdit({ leads: true })}>
                Let it lead
              </button>
              <button
                type="button"
                className={`btn btn-xs ${asked ? "btn-error" : ""}`}
                onClick={() => (asked ? onRemove() : setAsked(true))}
                onBlur={() => setAsked(false)}
              >
                <Trash2 size={12} /> {asked ? "Yes, take it out" : "Take it out of the model"}
              </button>
            </span>
          )}
        </>
      )}
    </fieldset>
  );
}
