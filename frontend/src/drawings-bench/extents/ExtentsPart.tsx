import { useEffect, useState } from "react";
import type { Cut, Drawing, Extents, Fitted, Style } from "../../api/client";
import { client, unwrap } from "../../api/client";
import { report } from "../../api/queries";
import { LengthField } from "../../fields/LengthField";
import { Part } from "../../fields/Part";
import { OPEN_EXTENTS } from "../cutting/plan-geometry";
import { startCorners } from "./corners-tool";
import { SharedExtentsPart } from "./SharedExtentsPart";

/** The crop of a drawing: four sides, and a polygon within them if wanted. */
type Props = {
  project: number;
  drawing: Drawing;
  cut: Cut;
  style: Style;
  onSave: (change: { cut: Cut }) => void;
};

export function ExtentsPart({ project, drawing, cut, style, onSave }: Props) {
  const extents = { ...OPEN_EXTENTS, ...cut.extents };
  const sides = ["left", "right", "base", "top"] as const;
  const limited = sides.some((side) => extents[side] !== null) || extents.polygon.length > 0;
  const save = (next: Extents) => onSave({ cut: { ...cut, extents: next } });
  const fit = async (to: "cut" | "seen" | "tight") => {
    try {
      const body = { cut, style, to };
      const path = { id: project };
      const fitted = await unwrap<Fitted>(
        client.POST("/api/projects/{id}/fit-extents", { params: { path }, body }),
      );
      const { breaks, broken, whole_edges } = extents;
      save({ ...fitted.extents, breaks, broken, whole_edges });
    } catch (error) {
      report(error);
    }
  };
  return (
    <Part title="Extents">
      {sides.map((side) => (
        <LengthField
          key={side}
          label={side[0]?.toUpperCase() + side.slice(1)}
          value={extents[side]}
          placeholder="open"
          mayBeEmpty={!cut.shared_extents}
          onChange={(value) => save({ ...extents, [side]: value })}
        />
      ))}
      {!cut.shared_extents && (
        <>
          <PolygonField value={extents.polygon} onChange={(polygon) => save({ ...extents, polygon })} />
          <button
            type="button"
            className="btn btn-xs"
            onClick={(event) => {
              event.currentTarget.blur(); // Enter closes the polygon
              startCorners();
            }}
          >
            Draw a polygon in the pane
          </button>
          <div className="flex gap-1">
            <button type="button" className="btn btn-xs flex-1" onClick={() => fit("cut")}>
              Fit to what is cut
            </button>
            <button type="button" className="btn btn-xs flex-1" onClick={() => fit("seen")}>
              to what is seen
            </button>
          </div>
          <button
            type="button"
            className="btn btn-xs"
            title="Take the sides in to what is cut, without the air beside it"
            onClick={() => fit("tight")}
          >
            Draw in tight
          </button>
          {limited && (
            <button type="button" className="btn btn-ghost btn-xs" onClick={() => save(OPEN_EXTENTS)}>
              Open all sides
            </button>
          )}
        </>
      )}
      {!drawing.callout && cut.kind !== "blank" && (
        <SharedExtentsPart project={project} drawing={drawing} cut={cut} onSave={onSave} />
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
