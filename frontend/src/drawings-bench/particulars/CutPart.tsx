import { FlipHorizontal2 } from "lucide-react";
import type { Cut, Drawing, Perspective, PlanCut, PlaneCut, Project, SectionCut } from "../../api/client";
import { Check, Choice } from "../../fields/Choice";
import { LengthField } from "../../fields/LengthField";
import { NumberField } from "../../fields/NumberField";
import { Part } from "../../fields/Part";
import { LineFields } from "./LineFields";
import { OpeningFields } from "./OpeningFields";

type Props = {
  project: Project;
  drawing: Drawing;
  cut: Cut;
  onSave: (change: { cut: Cut }) => void;
  onTurn: () => void;
};

/** Where and how a drawing is cut. */
export function CutPart({ project, drawing, cut, onSave, onTurn }: Props) {
  if (cut.kind === "blank") return null; // nothing is cut
  const save = (next: Cut) => onSave({ cut: next });
  return (
    <Part title="Cut">
      {cut.kind !== "plan" && cut.kind !== "plane" && (
        <button type="button" className="btn btn-xs justify-start" onClick={onTurn}>
          <FlipHorizontal2 size={13} /> {/looking \S+$/.exec(drawing.title)?.[0] ?? `looking ${cut.look}`} ·
          turn round
        </button>
      )}
      {cut.kind === "plan" && <PlanFields project={project} cut={cut} onSave={save} />}
      {cut.kind === "plane" && <PlaneFields cut={cut} onSave={save} />}
      {cut.kind === "plane" && cut.of === "view" && <OpeningFields cut={cut} onSave={save} />}
      {cut.kind === "section" && <LineFields drawing={drawing} cut={cut} onSave={save} />}
      {cut.kind === "section" && cut.depths && cut.depths.length > 0 ? (
        <LegDepths cut={cut} onSave={save} />
      ) : (
        <DepthFields cut={cut} onSave={save} />
      )}
      {cut.kind === "plan" && cut.look !== "up" && (
        <LengthField
          label="Overhead"
          value={cut.overhead ?? 0}
          least={0}
          onChange={(overhead) => overhead !== null && save({ ...cut, overhead })}
        />
      )}
      {cut.kind !== "plan" && (
        <PerspectiveFields
          value={cut.perspective ?? null}
          onChange={(perspective) => save({ ...cut, perspective } as Cut)}
        />
      )}
    </Part>
  );
}

function PlanFields({
  project,
  cut,
  onSave,
}: {
  project: Project;
  cut: PlanCut;
  onSave: (cut: PlanCut) => void;
}) {
  const storey = project.facts.storeys.find((s) => s.guid === cut.storey);
  return (
    <>
      <p>{storey?.name ?? "Lost storey"}</p>
      <Choice
        label="Looks"
        value={cut.look ?? "down"}
        options={[
          ["down", "down: a plan"],
          ["up", "up: a ceiling plan"],
        ]}
        onChange={(look) => onSave({ ...cut, look })}
      />
      <LengthField
        label="Height"
        value={cut.height ?? 1.2}
        onChange={(height) => height !== null && onSave({ ...cut, height })}
      />
    </>
  );
}

const AXES = ["x", "y", "z"] as const;

function PlaneFields({ cut, onSave }: { cut: PlaneCut; onSave: (cut: PlaneCut) => void }) {
  const row = (name: string, value: PlaneCut["point"], onChange: (value: PlaneCut["point"]) => void) => (
    <fieldset className="flex flex-col gap-0.5">
      <legend className="opacity-80">{name}</legend>
      <div className="flex gap-1">
        {AXES.map((axis, k) => (
          <NumberField
            key={axis}
            wide={false}
            label={`${name} ${axis}`}
            value={value[k] ?? 0}
            onChange={(next) => onChange(value.map((v, i) => (i === k ? next : v)) as PlaneCut["point"])}
          />
        ))}
      </div>
    </fieldset>
  );
  return (
    <>
      {row("Point (m)", cut.point, (point) => onSave({ ...cut, point }))}
      {row("Normal, to the viewer", cut.normal, (normal) => {
        if (Math.hypot(...normal) > 1e-6) onSave({ ...cut, normal });
      })}
    </>
  );
}

function LegDepths({ cut, onSave }: { cut: SectionCut; onSave: (cut: SectionCut) => void }) {
  const depths = cut.depths ?? [];
  return (
    <>
      {depths.map((depth, k) => (
        <LengthField
          // biome-ignore lint/suspicious/noArrayIndexKey: legs are told apart by their place in the line
          key={k}
          label={`Depth ${k + 1}`}
          value={depth}
          placeholder="unlimited"
          least={0.01}
          mayBeEmpty
          onChange={(next) => onSave({ ...cut, depths: depths.map((d, i) => (i === k ? next : d)) })}
        />
      ))}
    </>
  );
}

function DepthFields({ cut, onSave }: { cut: Cut; onSave: (cut: Cut) => void }) {
  return (
    <>
      <LengthField
        label="Depth"
        value={cut.depth ?? null}
        placeholder="unlimited"
        least={0.01}
        onChange={(depth) => depth !== null && onSave({ ...cut, depth })}
      />
      <Check
        label="Unlimited depth"
        checked={cut.depth == null}
        onChange={(unlimited) => onSave({ ...cut, depth: unlimited ? null : 5 })}
      />
    </>
  );
}

/** The eye before the picture plane: by its distance, or by the field of view. */
function PerspectiveFields({
  value,
  onChange,
}: {
  value: Perspective | null;
  onChange: (value: Perspective | null) => void;
}) {
  const byAngle = value?.field_of_view != null;
  return (
    <>
      <Check
        label="Perspective"
        checked={value !== null}
        onChange={(on) => onChange(on ? { distance: null, field_of_view: 60, eye: null } : null)}
      />
      {value && (
        <>
          <Choice
            label="Eye by"
            value={byAngle ? "angle" : "distance"}
            options={[
              ["angle", "field of view"],
              ["distance", "distance"],
            ]}
            onChange={(way) =>
              onChange({
                ...value,
                distance: way === "distance" ? 8 : null,
                field_of_view: way === "angle" ? 60 : null,
              })
            }
          />
          {byAngle ? (
            <NumberField
              label="View angle"
              unit="°"
              least={1}
              most={150}
              value={value.field_of_view ?? 60}
              onChange={(field_of_view) => onChange({ ...value, field_of_view })}
            />
          ) : (
            <LengthField
              label="Distance"
              least={0.1}
              value={value.distance ?? 8}
              onChange={(distance) => distance !== null && onChange({ ...value, distance })}
            />
          )}
        </>
      )}
    </>
  );
}
