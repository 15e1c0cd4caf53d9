import { useId } from "react";
import { useMaterials } from "../api/materials";
import { ClassChoice } from "../materials/ClassChoice";

/** A material by its name; `is_a`: the class of one that the model does not have yet, empty: what words say of its
 * name. */
export type Of = { material: string; is_a: string };
export const OF_NOTHING: Of = { material: "", is_a: "" };

type Props = { project: number; of: Of; onChange: (of: Of) => void };

/** The material of what is corrected: one that the model has, or a new one, and what that is. */
export function MaterialField({ project, of, onChange }: Props) {
  const { material, is_a } = of;
  const list = useId();
  const { data } = useMaterials(project, true);
  const known = data?.materials.map((one) => one.name) ?? [];
  return (
    <>
      <label className="flex items-center gap-2">
        <span className="w-16 shrink-0 opacity-80">Material</span>
        <input
          className="input input-xs min-w-0 flex-1"
          list={list}
          aria-label="Material"
          maxLength={300}
          value={material}
          onChange={(event) => onChange({ ...of, material: event.target.value })}
        />
      </label>
      <datalist id={list}>
        {known.map((one) => (
          <option key={one} value={one} />
        ))}
      </datalist>
      {data && material.trim() !== "" && !known.includes(material.trim()) && (
        <ClassChoice
          label="What the material is"
          value={is_a}
          usual="by its name"
          classes={data.classes}
          onChoose={(one) => onChange({ ...of, is_a: one })}
        />
      )}
    </>
  );
}
