import { Plus, Trash2 } from "lucide-react";
import type { DesignPart } from "../../api/client";

type Block = Extract<DesignPart, { kind: "title block" }>;
type Cell = Block["cells"][number];
const SIDES = ["left", "base", "wide", "high"] as const;

/** The fields of a title block: caption, what each says, and where it stands in the block (mm). */
export function CellFields({ block, onChange }: { block: Block; onChange: (block: Block) => void }) {
  const put = (at: number, part: Partial<Cell>) =>
    onChange({ ...block, cells: block.cells.map((c, k) => (k === at ? { ...c, ...part } : c)) });
  return (
    <div className="flex flex-col gap-2">
      <p className="text-xs opacity-85">
        Fields in braces: project, client, title, number, size, scale, revision, date, drawn, checked, folder,
        sheet, sheets, and your own.
      </p>
      {block.cells.map((c, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: fields have no name of their own
        <fieldset key={k} className="grid grid-cols-4 gap-1 border-t border-base-300 pt-1">
          <legend className="sr-only">Field {k + 1}</legend>
          <input
            className="input input-xs col-span-2"
            aria-label={`Caption of field ${k + 1}`}
            value={c.caption}
            maxLength={40}
            onChange={(event) => put(k, { caption: event.target.value })}
          />
          <input
            className="input input-xs figures col-span-2"
            aria-label={`What field ${k + 1} says`}
            value={c.says}
            maxLength={200}
            onChange={(event) => put(k, { says: event.target.value })}
          />
          {SIDES.map((side) => (
            <input
              key={side}
              className="input input-xs figures"
              aria-label={`${side} of field ${k + 1}, mm`}
              title={side}
              type="number"
              min={0}
              value={c[side]}
              onChange={(event) => put(k, { [side]: Number(event.target.value) })}
            />
          ))}
          <button
            type="button"
            className="btn btn-ghost btn-xs col-span-2"
            onClick={() => onChange({ ...block, cells: block.cells.filter((_, n) => n !== k) })}
          >
            <Trash2 size={11} /> Remove
          </button>
        </fieldset>
      ))}
      <button
        type="button"
        className="btn btn-xs self-start"
        onClick={() =>
          onChange({
            ...block,
            cells: [
              ...block.cells,
              { left: 0, base: 0, wide: 40, high: 12, caption: "Field", says: "", lettering: "label" },
            ],
          })
        }
      >
        <Plus size={12} /> Field
      </button>
    </div>
  );
}
