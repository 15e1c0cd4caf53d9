import { useState } from "react";
import { NumberField } from "../../fields/NumberField";
import { Part } from "../../fields/Part";

type Props = {
  slice: boolean;
  onBodies: (form: "glb" | "stl") => void;
  onPicture: (wide: number, high: number) => void;
};

/** The model as it is opened, as closed bodies or as a picture. */
export function SavePart({ slice, onBodies, onPicture }: Props) {
  const [wide, setWide] = useState(2400);
  const [high, setHigh] = useState(1500);
  return (
    <Part title="Save">
      <div className="flex flex-wrap gap-1">
        <button type="button" className="btn btn-xs" onClick={() => onBodies("glb")}>
          {slice ? "Slice" : "Opened model"}, glTF
        </button>
        <button type="button" className="btn btn-xs" onClick={() => onBodies("stl")}>
          {slice ? "Slice" : "Opened model"}, STL
        </button>
      </div>
      <div className="flex flex-col gap-1">
        <NumberField label="Picture, wide" unit="px" least={16} most={8000} value={wide} onChange={setWide} />
        <NumberField label="Picture, high" unit="px" least={16} most={8000} value={high} onChange={setHigh} />
      </div>
      <button type="button" className="btn btn-xs self-start" onClick={() => onPicture(wide, high)}>
        Picture, PNG
      </button>
    </Part>
  );
}
