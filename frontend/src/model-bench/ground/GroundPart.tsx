import { useState } from "react";
import { Link } from "react-router";
import type { Ground, GroundRole, GroundState, Grounds, Project, SharedExtents } from "../../api/client";
import { sayGround, useGround } from "../../api/ground";
import { Check, Choice } from "../../fields/Choice";
import { Part } from "../../fields/Part";
import { GroundFields } from "./GroundFields";

const ROLES: [GroundRole, string][] = [
  ["existing", "As it is"],
  ["proposed", "Proposed"],
];

type Props = {
  project: Project;
  boxes: SharedExtents[];
  picked: string | null;
  /** Whether its points show in the picture, and how many of them do. */
  handles: { on: boolean; shown: number; of: number; set: (on: boolean) => void };
};

/** The ground that the project says it has, as it is and as it shall be, and what it takes to make the one of the other. */
export function GroundPart({ project, boxes, picked, handles }: Props) {
  const { data: state } = useGround(project.id);
  const [role, setRole] = useState<GroundRole>("existing");
  if (!state) return null;
  const say = (grounds: Grounds) => sayGround(project.id, state.version, grounds);
  const ground = state.grounds[role] ?? null;
  const set = (next: Ground | null) => say({ ...state.grounds, [role]: next });
  return (
    <Part title="Ground">
      <Choice label="Which" value={role} options={ROLES} onChange={setRole} />
      <GroundFields
        key={role}
        {...{ project, boxes, picked, ground, role }}
        modelHas={state.model_has}
        onGround={set}
      />
      {state.problem && (
        <p role="alert" className="text-xs text-error">
          {state.problem}
        </p>
      )}
      {handles.of > 0 && (
        <>
          <Check label="Move its points here" checked={handles.on} onChange={handles.set} />
          {handles.on && handles.shown < handles.of && (
            <p className="text-xs opacity-85">
              {handles.shown} of {handles.of} points, those nearest to the building; others are moved in a
              section.
            </p>
          )}
        </>
      )}
      <Works project={project.id} state={state} />
    </Part>
  );
}

/** Cubic metres cut and filled, of the whole and of each section. */
function Works({ project, state: { works, sections } }: { project: number; state: GroundState }) {
  if (!works) return null;
  const cubic = (value: number) => value.toFixed(1);
  return (
    <section aria-label="Cut and fill" className="flex flex-col gap-1">
      <p>
        Cut <b className="figures">{cubic(works.cut)} m³</b>, fill{" "}
        <b className="figures">{cubic(works.fill)} m³</b>
        <span className="text-xs opacity-85"> over {works.area.toFixed(0)} m²</span>
      </p>
      {sections.length > 0 && (
        <table className="figures w-full text-right text-xs">
          <thead>
            <tr className="opacity-85">
              <th className="text-left font-normal">In what a section sees</th>
              <th className="font-normal">cut</th>
              <th className="font-normal">fill m³</th>
            </tr>
          </thead>
          <tbody>
            {sections.map((s) => (
              <tr
                key={s.drawing}
                title={`In its plane: ${s.cut_area.toFixed(2)} m² cut, ${s.fill_area.toFixed(2)} m² filled`}
              >
                <td className="max-w-28 truncate text-left">
                  <Link className="link" to={`/projects/${project}?drawing=${s.drawing}`}>
                    {s.title}
                  </Link>
                </td>
                <td>{cubic(s.cut)}</td>
                <td>{cubic(s.fill)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
