import type { StandardDocument } from "../api/client";
import { Choice } from "../fields/Choice";
import { NumberField } from "../fields/NumberField";
import type { EditProps } from "./HatchEditor";

type Rule = NonNullable<StandardDocument["annotations"]>;
type LineType = Rule["line_types"][string];
type Size = "arrow" | "dot" | "tick" | "gap" | "over" | "beside" | "elbow" | "margin";

const SIZES: [Size, string][] = [
  ["arrow", "Length of arrows"],
  ["dot", "Radius of dots"],
  ["tick", "Strokes at dimension ends"],
  ["gap", "Feature to witness line"],
  ["over", "Witness line beyond"],
  ["beside", "Text from its line"],
  ["elbow", "Level part of leaders"],
  ["margin", "Note margin"],
];
const NEW_LINE: LineType = { width: 0.25, dash: [], letters: "", spacing: 25, colour: null };

/** How annotations look: ends, gaps, line types with their letters, symbols, and the note library. */
export function AnnotationTable({ document, readOnly, onChange }: EditProps) {
  const rule = document.annotations;
  if (!rule) return null;
  const set = (part: Partial<Rule>) => onChange({ ...document, annotations: { ...rule, ...part } });
  const setLine = (name: string, part: Partial<LineType>) =>
    set({ line_types: { ...rule.line_types, [name]: { ...(rule.line_types[name] ?? NEW_LINE), ...part } } });
  return (
    <fieldset
      disabled={readOnly}
      className="flex h-full flex-wrap content-start gap-x-10 gap-y-4 overflow-auto p-3"
    >
      <section className="flex w-72 flex-col gap-1.5">
        <h3 className="font-semibold">Dimensions and leaders</h3>
        <Choice
          label="Ends"
          value={rule.ends}
          options={[
            ["tick", "strokes"],
            ["arrow", "arrows"],
            ["dot", "dots"],
          ]}
          onChange={(ends) => set({ ends })}
        />
        {SIZES.map(([key, label]) => (
          <div key={key} className="flex items-center gap-2">
            <span className="w-44 shrink-0">{label}</span>
            <NumberField
              wide={false}
              label={label}
              unit="mm"
              least={0}
              most={200}
              value={rule[key]}
              onChange={(value) => set({ [key]: value })}
            />
          </div>
        ))}
      </section>
      <section className="flex w-[30rem] flex-col gap-1">
        <h3 className="font-semibold">Line types</h3>
        <table className="table table-xs">
          <thead>
            <tr>
              <th>Name</th>
              <th>Width</th>
              <th>Dashes, in widths</th>
              <th>Letters</th>
              <th>Every</th>
            </tr>
          </thead>
          <tbody>
            {Object.entries(rule.line_types).map(([name, line]) => (
              <tr key={name}>
                <td>{name}</td>
                <td>
                  <NumberField
                    wide={false}
                    label={`Width of ${name}`}
                    least={0}
                    most={5}
                    value={line.width}
                    onChange={(width) => setLine(name, { width })}
                  />
                </td>
                <td>
                  <input
                    aria-label={`Dashes of ${name}`}
                    className="input input-xs figures w-28"
                    defaultValue={line.dash.join(" ")}
                    onBlur={(event) => {
                      const dash = event.target.value.split(/\s+/).filter(Boolean).map(Number);
                      if (dash.every((d) => Number.isFinite(d) && d >= 0) && dash.length <= 8)
                        setLine(name, { dash });
                      else event.target.value = line.dash.join(" ");
                    }}
                  />
                </td>
                <td>
                  <input
                    aria-label={`Letters of ${name}`}
                    className="input input-xs w-14"
                    maxLength={8}
                    defaultValue={line.letters}
                    onBlur={(event) =>
                      event.target.value !== line.letters && setLine(name, { letters: event.target.value })
                    }
                  />
                </td>
                <td>
                  <NumberField
                    wide={false}
                    label={`Letters of ${name} every`}
                    least={5}
                    most={500}
                    value={line.spacing}
                    onChange={(spacing) => setLine(name, { spacing })}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <NewLine onAdd={(name) => !(name in rule.line_types) && setLine(name, NEW_LINE)} />
      </section>
      <section className="flex w-72 flex-col gap-1">
        <h3 className="font-semibold">Symbols</h3>
        <ul className="flex flex-wrap gap-2">
          {Object.entries(rule.symbols).map(([name, form]) => (
            <li key={name} className="flex w-20 flex-col items-center text-center text-xs" title={name}>
              <SymbolPicture form={form} />
              <span className="w-full truncate">{name}</span>
            </li>
          ))}
        </ul>
        <p className="text-xs opacity-85">Drawn lines become a symbol in the particulars of a drawing.</p>
      </section>
      <section className="flex w-80 flex-col gap-1">
        <h3 className="font-semibold">Note library</h3>
        <p className="text-xs opacity-85">
          One note a line; its first letters bring it while a note is typed.
        </p>
        <textarea
          key={rule.library.join("\n")}
          aria-label="Note library"
          className="textarea textarea-xs h-48 w-full leading-tight"
          defaultValue={rule.library.join("\n")}
          onBlur={(event) => {
            const library = event.target.value
              .split("\n")
              .map((l) => l.trim().slice(0, 400))
              .filter(Boolean);
            if (library.join("\n") !== rule.library.join("\n")) set({ library });
          }}
        />
      </section>
    </fieldset>
  );
}

function NewLine({ onAdd }: { onAdd: (name: string) => unknown }) {
  return (
    <input
      aria-label="Name of a new line type"
      className="input input-xs w-48"
      placeholder="New line type …"
      maxLength={60}
      onKeyDown={(event) => {
        const name = event.currentTarget.value.trim();
        if (event.key !== "Enter" || !name) return;
        onAdd(name);
        event.currentTarget.value = "";
      }}
    />
  );
}

function SymbolPicture({ form }: { form: Rule["symbols"][string] }) {
  const points = form.paths.flatMap((p) => p.points as [number, number][]);
  const reach = Math.max(...points.flat().map(Math.abs), 1) * 1.15;
  return (
    <svg
      className="film size-14 rounded border border-base-300"
      viewBox={`${-reach} ${-reach} ${2 * reach} ${2 * reach}`}
      aria-hidden="true"
    >
      {form.paths.map((path, k) => {
        const d = (path.points as [number, number][])
          .map(([x, y], i) => `${i === 0 ? "M" : "L"}${x} ${-y}`)
          .join("");
        return (
          <path
            // biome-ignore lint/suspicious/noArrayIndexKey: paths of a symbol have no name
            key={k}
            d={path.closed ? `${d}Z` : d}
            fill={path.filled ? "#22302b" : "none"}
            stroke={path.filled ? "none" : "#22302b"}
            strokeWidth={reach / 40}
          />
        );
      })}
    </svg>
  );
}
