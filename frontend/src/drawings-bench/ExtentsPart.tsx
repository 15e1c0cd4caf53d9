import { useEffect, useState } from "react";
import type { Cut, Extents } from "../api/client";
import { LengthField } from "../fields/LengthField";
import { Part } from "../fields/Part";
import { OPEN_EXTENTS } from "./plan-geometry";

/** The crop of a drawing: four sides, and a polygon within them if wanted. */
export function ExtentsPart({ cut, onSave }: { cut: Cut; onSave: (change: { cut: Cut }) => void }) {
  const extents = { ...OPEN_EXTENTS, ...cut.extents };
  const sides = ["left", "right", "base", "top"] as const;
  const limited = sides.some((side) => extents[side] !== null) || extents.polygon.length > 0;
  const save = (next: Extents) => onSave({ cut: { ...cut, extents: next } });
  return (
    <Part title="Extents">
      {sides.map((side) => (
        <LengthField
          key={side}
          label={side[0]?.toUpperCase() + side.slice(1)}
          value={extents[side]}
          placeholder="open"
          mayBeEmpty
          onChange={(value) => save({ ...extents, [side]: value })}
        />
      ))}
      <PolygonField value={extents.polygon} onChange={(polygon) => save({ ...extents, polygon })} />
      {limited && (
        <button type="button" className="btn btn-ghost btn-xs" onClick={() => save(OPEN_EXTENTS)}>
          Open all sides
        </button>
      )}
    </Part>
  );
}

type Corners = Extents["polygon"];
const written = (corners: Corners) => corners.map(([u, v]) => `${u},${v}`).join("  ");

/** Corners right and up in the drawing, in metres: 0,0  4,0  4,3. */
function PolygonField({ value, onChange }: { value: Corners; onChange: (value: Corners) => void }) {
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new value from outside ends what was being typed
  useEffect(() => setText(null), [written(value)]);
  const enter = () => {
    if (text === null) return;
    const corners = text
      .trim()
      .split(/\s+/)
      .filter((part) => part !== "")
      .map((part) => part.split(",").map(Number));
    const fits = corners.every((c) => c.length === 2 && c.every(Number.isFinite));
    setWrong(!fits || corners.length === 1 || corners.length === 2);
    if (fits && corners.length !== 1 && corners.length !== 2) {
      setText(null);
      onChange(corners as Corners);
    }
  };
  return (
    <label className="flex flex-col gap-0.5">
      <span className="flex items-center gap-2">
        <span className="w-20 shrink-0 opacity-80">Polygon</span>
        <input
          className={`input input-xs figures w-full ${wrong ? "input-error" : ""}`}
          aria-label="Polygon"
          placeholder="none"
          value={text ?? written(value)}
          onChange={(event) => setText(event.target.value)}
          onBlur={enter}
          onKeyDown={(event) => event.key === "Enter" && enter()}
        />
        <span className="w-6 text-xs opacity-85">m</span>
      </span>
      {wrong && (
        <span role="alert" className="text-xs text-error">
          Three corners or more, like 0,0 4,0 4,3
        </span>
      )}
    </label>
  );
}
