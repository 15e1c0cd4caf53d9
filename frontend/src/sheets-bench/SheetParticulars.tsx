import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { Drawing, Settings, Sheet } from "../api/client";
import { useSheetActs } from "../api/sheet-acts";
import { Part } from "../fields/Part";

type Props = { sheet: Sheet; drawings: Drawing[]; settings: Settings };
const FIELDS = [
  ["revision", "Revision"],
  ["date", "Date"],
  ["drawn", "Drawn"],
  ["checked", "Checked"],
] as const;

/** Number, title, size, title-block fields and the numbers of a sheet's drawings. */
export function SheetParticulars({ sheet, drawings, settings }: Props) {
  const { edit, move, take } = useSheetActs(sheet.project_id);
  const change = (part: Parameters<typeof edit.mutate>[0]["change"]) => edit.mutate({ sheet, change: part });
  return (
    <aside aria-label="Sheet particulars" className="flex h-full flex-col">
      <h2 className="flex h-8 shrink-0 items-center border-b border-base-300 px-3 font-semibold">
        Particulars
      </h2>
      <div className="flex-1 overflow-y-auto">
        <Part title="Sheet">
          <TextField label="Number" value={sheet.number} onEnter={(number) => change({ number })} figures />
          <TextField label="Title" value={sheet.title} onEnter={(title) => change({ title })} />
          <label className="flex items-center gap-2">
            <span className="w-16 opacity-80">Size</span>
            <select
              className="select select-xs flex-1"
              value={sheet.size}
              onChange={(event) => change({ size: event.target.value as Sheet["size"] })}
            >
              {settings.sheet_sizes.map((size) => (
                <option key={size}>{size}</option>
              ))}
            </select>
          </label>
        </Part>
        <Part title="Title block">
          {FIELDS.map(([key, label]) => (
            <TextField
              key={key}
              label={label}
              value={sheet.fields[key] ?? ""}
              mayBeEmpty
              onEnter={(text) => change({ fields: { ...sheet.fields, [key]: text } })}
            />
          ))}
        </Part>
        <Part title="Drawings on this sheet">
          {sheet.placements.length === 0 && (
            <p className="opacity-85">None yet: place one from the list at the left.</p>
          )}
          {sheet.placements.map((p) => {
            const drawing = drawings.find((d) => d.id === p.drawing_id);
            return (
              <div key={p.id} className="flex flex-col gap-1 border-b border-base-300 pb-1.5 last:border-0">
                <Link
                  className="link link-hover truncate"
                  to={`/projects/${sheet.project_id}?drawing=${p.drawing_id}`}
                >
                  {drawing?.title}
                </Link>
                <div className="flex items-end gap-1">
                  <TextField
                    label="Number"
                    value={p.number}
                    figures
                    onEnter={(number) => move.mutate({ placement: p, change: { number } })}
                  />
                  <button type="button" className="btn btn-xs" onClick={() => take.mutate(p.id)}>
                    Take off
                  </button>
                </div>
              </div>
            );
          })}
        </Part>
      </div>
    </aside>
  );
}

type TextProps = {
  label: string;
  value: string;
  onEnter: (text: string) => void;
  mayBeEmpty?: boolean;
  figures?: boolean;
};

function TextField({ label, value, onEnter, mayBeEmpty, figures }: TextProps) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const enter = () => {
    const trimmed = text.trim();
    if (trimmed === value) return;
    if (trimmed === "" && !mayBeEmpty) setText(value);
    else onEnter(trimmed);
  };
  return (
    <label className="flex min-w-0 flex-1 items-center gap-2">
      <span className="w-16 shrink-0 opacity-80">{label}</span>
      <input
        className={`input input-xs w-full ${figures ? "figures" : ""}`}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={enter}
        onKeyDown={(event) => {
          if (event.key === "Enter") enter();
          if (event.key === "Escape") setText(value);
        }}
      />
    </label>
  );
}
