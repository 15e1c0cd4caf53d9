import type { StandardDocument } from "../api/client";
import { NumberField } from "../fields/NumberField";
import type { EditProps } from "./HatchEditor";

const INKED = new Set(["hatch", "surface pattern"]); // in the ink of hatches
const SIZES = ["small", "middle", "large"] as const;

/** Pen widths by role and class of scale, with what each looks like; inks and the limits of the classes. */
export function PenTable({ document, readOnly, onChange }: EditProps) {
  const { large, middle } = document.scale_classes;
  const heads = { small: `beyond 1:${middle}`, middle: `to 1:${middle}`, large: `to 1:${large}` };
  const put = (role: string, pen: StandardDocument["pens"][string]) =>
    onChange({ ...document, pens: { ...document.pens, [role]: pen } });
  return (
    <fieldset disabled={readOnly} className="h-full overflow-auto p-3">
      <div className="mb-3 flex flex-wrap gap-4">
        {(["ink", "hatch_ink"] as const).map((key) => (
          <label key={key} className="flex items-center gap-2">
            <input
              type="color"
              className="h-5 w-8 cursor-pointer"
              value={document[key]}
              onChange={(event) => onChange({ ...document, [key]: event.target.value })}
            />
            {key === "ink" ? "Ink" : "Ink of hatches"}
          </label>
        ))}
      </div>
      <table className="table table-xs w-auto" aria-label="Pens">
        <thead>
          <tr>
            <th>Line</th>
            {SIZES.map((size) => (
              <th key={size}>{heads[size]}</th>
            ))}
            <th>Dashes, in widths</th>
            <th>Colour</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {Object.entries(document.pens).map(([role, pen]) => (
            <tr key={role}>
              <th scope="row" className="font-semibold">
                {role}
              </th>
              {SIZES.map((size) => (
                <td key={size} className="w-24">
                  <NumberField
                    label={`${role}, ${heads[size]}`}
                    wide={false}
                    least={0}
                    most={5}
                    unit="mm"
                    value={pen.width[size] ?? 0}
                    onChange={(width) => put(role, { ...pen, width: { ...pen.width, [size]: width } })}
                  />
                </td>
              ))}
              <td className="figures">{pen.dash.length > 0 ? pen.dash.join(" ") : "continuous"}</td>
              <td className="whitespace-nowrap">
                <input
                  type="color"
                  className="h-5 w-8 cursor-pointer align-middle"
                  aria-label={`Colour of ${role}`}
                  value={pen.colour ?? (INKED.has(role) ? document.hatch_ink : document.ink)}
                  onChange={(event) => put(role, { ...pen, colour: event.target.value })}
                />
                {pen.colour && (
                  <button
                    type="button"
                    className="btn btn-ghost btn-xs"
                    onClick={() => put(role, { ...pen, colour: null })}
                  >
                    ink
                  </button>
                )}
              </td>
              <td>
                <svg width="120" height="10" aria-hidden="true">
                  <line
                    x1="4"
                    x2="116"
                    y1="5"
                    y2="5"
                    stroke={pen.colour ?? "currentColor"}
                    strokeLinecap="round"
                    strokeWidth={(pen.width.middle ?? 0) * 4}
                    strokeDasharray={pen.dash.map((d) => d * (pen.width.middle ?? 0) * 4).join(" ")}
                  />
                </svg>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </fieldset>
  );
}
