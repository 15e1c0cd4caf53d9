import type { Hatch } from "../api/client";
import { Check, Choice } from "../fields/Choice";
import { NumberField } from "../fields/NumberField";
import { TileCanvas } from "./TileCanvas";

type Family = Hatch["families"][number];
type Scatter = Hatch["scatter"][number];
type Tile = Hatch["tiles"][number];
const NEW_FAMILY: Family = {
  angle: 45,
  spacing: 2,
  shift: 0,
  dash: [],
  model: false,
  least: 0.7,
  upright: false,
};

function Rows<T>(props: {
  title: string;
  rows: T[];
  fresh: T;
  onChange: (rows: T[]) => void;
  children: (row: T, put: (part: Partial<T>) => void) => React.ReactNode;
}) {
  const { rows, onChange } = props;
  return (
    <section className="flex flex-col gap-2 border-t border-base-300 pt-2">
      <div className="flex items-center justify-between">
        <h4 className="font-semibold">{props.title}</h4>
        <button type="button" className="btn btn-xs" onClick={() => onChange([...rows, props.fresh])}>
          Add
        </button>
      </div>
      {rows.map((row, k) => {
        const key = `${props.title} ${k}`;
        return (
          <fieldset
            key={key}
            className="flex flex-col gap-1 rounded bg-base-200 p-2"
            aria-label={`${props.title} ${k + 1}`}
          >
            {props.children(row, (part) => onChange(rows.map((r, i) => (i === k ? { ...r, ...part } : r))))}
            <button
              type="button"
              className="btn btn-ghost btn-xs self-end"
              onClick={() => onChange(rows.filter((_, i) => i !== k))}
            >
              Remove
            </button>
          </fieldset>
        );
      })}
    </section>
  );
}

/** Parallel lines, of the paper or of the building. */
export function FamilyRows({
  families,
  onChange,
}: {
  families: Family[];
  onChange: (rows: Family[]) => void;
}) {
  return (
    <Rows title="Lines" rows={families} fresh={NEW_FAMILY} onChange={onChange}>
      {(row, put) => (
        <>
          <NumberField label="Angle" unit="°" value={row.angle} onChange={(angle) => put({ angle })} />
          <NumberField
            label="Spacing"
            unit="mm"
            least={0.1}
            most={10000}
            value={row.spacing}
            onChange={(spacing) => put({ spacing })}
          />
          <NumberField label="Shift" unit="mm" value={row.shift} onChange={(shift) => put({ shift })} />
          <DashField value={row.dash} onChange={(dash) => put({ dash })} />
          <RealSize like="courses of brick" row={row} put={put} />
        </>
      )}
    </Rows>
  );
}

type Sized = Pick<Family, "model" | "least" | "upright">;
type SizeProps = { like: string; row: Sized; put: (part: Partial<Sized>) => void };

/** Whether lines or pictures are of real size, and when they show then. */
function RealSize({ like, row, put }: SizeProps) {
  return (
    <>
      <Check label={`Real size, like ${like}`} checked={row.model} onChange={(model) => put({ model })} />
      {row.model && (
        <>
          <NumberField
            label="Finest"
            unit="mm"
            least={0.1}
            most={100}
            value={row.least}
            onChange={(least) => put({ least })}
          />
          <Check
            label="Only in upright drawings"
            checked={row.upright}
            onChange={(upright) => put({ upright })}
          />
        </>
      )}
    </>
  );
}

const NEW_TILE: Tile = {
  width: 4,
  height: 4,
  stagger: 0,
  strokes: [
    [
      [1, 2],
      [3, 2],
    ],
  ],
  model: false,
  least: 0.7,
  upright: false,
};

/** Small pictures of strokes, repeated in rows. */
export function TileRows(props: { tiles: Tile[]; readOnly: boolean; onChange: (rows: Tile[]) => void }) {
  return (
    <Rows title="Repeated" rows={props.tiles} fresh={NEW_TILE} onChange={props.onChange}>
      {(row, put) => (
        <>
          <TileCanvas tile={row} readOnly={props.readOnly} onChange={(strokes) => put({ strokes })} />
          {(["width", "height"] as const).map((key) => (
            <NumberField
              key={key}
              label={key === "width" ? "Width" : "Height"}
              unit="mm"
              least={0.2}
              most={10000}
              value={row[key]}
              onChange={(value) => put({ [key]: value })}
            />
          ))}
          <NumberField
            label="Stagger"
            unit="%"
            least={0}
            most={100}
            value={Math.round(row.stagger * 1000) / 10}
            onChange={(share) => put({ stagger: share / 100 })}
          />
          <RealSize like="bonds of brick" row={row} put={put} />
        </>
      )}
    </Rows>
  );
}

/** Dash and gap lengths, like 3 1. */
function DashField({ value, onChange }: { value: number[]; onChange: (value: number[]) => void }) {
  const enter = (text: string) => {
    const parts = text
      .trim()
      .split(/\s+/)
      .filter((p) => p !== "")
      .map(Number);
    if (parts.every((p) => p > 0) && parts.length % 2 === 0) onChange(parts);
  };
  return (
    <label className="flex items-center gap-2">
      <span className="w-20 shrink-0 opacity-80">Dashes</span>
      <input
        key={value.join(" ")}
        className="input input-xs figures min-w-0 flex-1 text-right"
        aria-label="Dashes"
        title="Dash and gap in turn, in mm, like 3 1; empty: continuous"
        placeholder="continuous"
        defaultValue={value.join(" ")}
        onBlur={(event) => enter(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && enter(event.currentTarget.value)}
      />
      <span className="w-6 text-xs opacity-85">mm</span>
    </label>
  );
}

/** Small shapes, strewn the same way every time. */
export function ScatterRows({
  scatter,
  onChange,
}: {
  scatter: Scatter[];
  onChange: (rows: Scatter[]) => void;
}) {
  return (
    <Rows
      title="Scattered"
      rows={scatter}
      fresh={{ shape: "dot", spacing: 1, size: 0.14 }}
      onChange={onChange}
    >
      {(row, put) => (
        <>
          <Choice
            label="Shape"
            value={row.shape}
            options={[
              ["dot", "dot"],
              ["triangle", "triangle"],
              ["pebble", "pebble"],
            ]}
            onChange={(shape) => put({ shape })}
          />
          <NumberField
            label="Spacing"
            unit="mm"
            least={0.3}
            most={1000}
            value={row.spacing}
            onChange={(spacing) => put({ spacing })}
          />
          <NumberField
            label="Size"
            unit="mm"
            least={0.01}
            most={1000}
            value={row.size}
            onChange={(size) => put({ size })}
          />
        </>
      )}
    </Rows>
  );
}

const FIGURES = [
  ["none", "none"],
  ["batt", "batt, face to face"],
  ["lattice", "lattice, face to face"],
  ["across", "joints across"],
  ["along", "lines along"],
  ["grain", "grain along"],
  ["plies", "plies along"],
  ["members", "spaced members"],
  ["rings", "growth rings"],
  ["edge", "strokes at a surface"],
] as const;
type Figure = (typeof FIGURES)[number][0];

const figureOf = (hatch: Hatch): Figure =>
  hatch.fitted?.figure ?? (hatch.rings ? "rings" : hatch.edge ? "edge" : "none");

/** A figure that knows the shape it fills. */
export function FigureFields({ hatch, onChange }: { hatch: Hatch; onChange: (hatch: Hatch) => void }) {
  const choose = (figure: Figure) =>
    onChange({
      ...hatch,
      fitted:
        figure === "none" || figure === "rings" || figure === "edge"
          ? null
          : {
              figure,
              pitch: hatch.fitted?.pitch ?? 0.5,
              spacing: figure === "members" ? 600 : (hatch.fitted?.spacing ?? 1),
              width: figure === "members" ? 45 : 1,
              model: figure === "members",
            },
      rings: figure === "rings" ? { spacing: 0.8 } : null,
      edge: figure === "edge" ? { every: 7.5, length: 3.6, strokes: 4, apart: 0.9 } : null,
    });
  const { fitted, rings, edge } = hatch;
  return (
    <section className="flex flex-col gap-1 border-t border-base-300 pt-2">
      <h4 className="font-semibold">Fitted to the shape</h4>
      <Choice label="Figure" value={figureOf(hatch)} options={FIGURES} onChange={choose} />
      {fitted && (fitted.figure === "batt" || fitted.figure === "lattice") && (
        <NumberField
          label="Pitch"
          unit="× t"
          least={0.1}
          most={20}
          value={fitted.pitch}
          onChange={(pitch) => onChange({ ...hatch, fitted: { ...fitted, pitch } })}
        />
      )}
      {fitted && fitted.figure !== "batt" && fitted.figure !== "lattice" && (
        <NumberField
          label="Spacing"
          unit="mm"
          least={0.2}
          most={1000}
          value={fitted.spacing}
          onChange={(spacing) => onChange({ ...hatch, fitted: { ...fitted, spacing } })}
        />
      )}
      {fitted?.figure === "members" && (
        <>
          <NumberField
            label="Width"
            unit="mm"
            least={0.1}
            most={1000}
            value={fitted.width}
            onChange={(width) => onChange({ ...hatch, fitted: { ...fitted, width } })}
          />
          <Check
            label="Real size, in mm of the building"
            checked={fitted.model}
            onChange={(model) => onChange({ ...hatch, fitted: { ...fitted, model } })}
          />
        </>
      )}
      {rings && (
        <NumberField
          label="Spacing"
          unit="mm"
          least={0.3}
          most={1000}
          value={rings.spacing}
          onChange={(spacing) => onChange({ ...hatch, rings: { spacing } })}
        />
      )}
      {edge &&
        (
          [
            ["every", "Every", 1],
            ["length", "Length", 0.1],
            ["strokes", "Strokes", 1],
            ["apart", "Apart", 0.1],
          ] as const
        ).map(([key, words, least]) => (
          <NumberField
            key={key}
            label={words}
            unit={key === "strokes" ? "" : "mm"}
            least={least}
            most={key === "strokes" ? 12 : 1000}
            value={edge[key]}
            onChange={(value) =>
              onChange({ ...hatch, edge: { ...edge, [key]: key === "strokes" ? Math.round(value) : value } })
            }
          />
        ))}
    </section>
  );
}
