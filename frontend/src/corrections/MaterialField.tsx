import { useId } from "react";
import { useMaterials } from "../api/materials";
import { ClassChoice } from "../materials/ClassChoice";

type Props = {
  project: number;
  material: string;
  /** The class of a material that the model does not have yet; empty: what words say of its name. */
  isA: string;
  onChange: (material: string, isA: string) => void;
};

/** The material of what is corrected: one that the model has, or a new one, and what that is. */
export function MaterialField({ project, material, isA, onChange }: Props) {
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
          onChange={(event) => onChange(event.target.value, isA)}
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
          value={isA}
          usual="by its name"
          classes={data.classes}
          onChoose={(one) => onChange(material, one)}
        />
      )}
    </>
  );
}
