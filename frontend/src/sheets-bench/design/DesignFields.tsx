import { Plus, Trash2 } from "lucide-react";
import { useRef, useState } from "react";
import { storePicture } from "../../api/annotations";
import type { DesignDocument, DesignPart, Sheet } from "../../api/client";
import { useDesignActs, useDesigns } from "../../api/designs";
import { report } from "../../api/queries";
import { useSheetState } from "../../desk/sheet-state";
import { Check, Choice } from "../../fields/Choice";
import { FileField } from "../../fields/FileField";
import { NumberField } from "../../fields/NumberField";
import { Part } from "../../fields/Part";
import { TextField } from "../../fields/TextField";
import { CellFields } from "../panels/CellFields";
import { frameOf, type Kind, movable, newPart, regionFrom, without, withRegion } from "./design-steps";

const KINDS: readonly (readonly [Kind, string])[] = [
  ["title block", "title block"],
  ["revisions", "revision table"],
  ["north", "north sign"],
  ["scale bar", "scale bar"],
  ["key plan", "key plan"],
  ["sheet list", "sheet list"],
  ["drawing list", "drawing list"],
  ["text", "text"],
  ["logo", "logo (PNG)"],
];
const SIDES = ["left", "base", "right", "top"] as const;

/** All of a design that is no place on the sheet: name, margins, own fields, texts; and what is chosen. */
export function DesignFields({ sheet }: { sheet: Sheet }) {
  const { designing, setDesigning } = useSheetState();
  const { save } = useDesignActs(sheet.project_id);
  const { data: designs = [] } = useDesigns(sheet.project_id);
  const logo = useRef<HTMLInputElement>(null);
  const [kind, setKind] = useState<Kind>("text");
  if (!designing) return null;
  const { document, design } = designing;
  const put = (part: Partial<DesignDocument>) =>
    setDesigning({ ...designing, document: { ...document, ...part } });
  const addPart = (part: DesignPart) =>
    setDesigning({
      ...designing,
      chosen: `part ${document.parts.length}`,
      document: { ...document, parts: [...document.parts, part] },
    });
  const addArea = () => {
    const { region } = newPart("sheet list", "");
    const name = `Area ${document.areas.length + 1}`;
    setDesigning({
      ...designing,
      chosen: `area ${document.areas.length}`,
      document: { ...document, areas: [...document.areas, { name, region }] },
    });
  };
  const load = async (file: File) => {
    try {
      addPart(newPart("logo", (await storePicture(sheet.project_id, file)).name));
    } catch (error) {
      report(error);
    }
  };
  return (
    <>
      <Part title={`${designs.find((d) => d.key === design.key)?.sheets ?? design.sheets} sheets have it`}>
        <TextField label="Name" value={document.name} onEnter={(name) => put({ name })} />
        <div className="flex gap-1">
          <button
            type="button"
            className="btn btn-xs btn-primary flex-1"
            disabled={save.isPending}
            onClick={() => save.mutate({ design, document }, { onSuccess: () => setDesigning(null) })}
          >
            Save the design
          </button>
          <button type="button" className="btn btn-xs" onClick={() => setDesigning(null)}>
            Leave it
          </button>
        </div>
      </Part>
      <Chosen sheet={sheet} />
      <Part title="Add">
        <div className="flex gap-1">
          <Choice
            labelWidth="w-16"
            label="Part"
            value={kind}
            options={[...KINDS]}
            onChange={(said) => setKind(said as Kind)}
          />
          <button
            type="button"
            className="btn btn-xs"
            onClick={() => (kind === "logo" ? logo.current?.click() : addPart(newPart(kind, "")))}
          >
            Add
          </button>
        </div>
        <button type="button" className="btn btn-xs self-start" onClick={addArea}>
          <Plus size={12} /> Drawing area
        </button>
        <FileField field={logo} label="A logo as PNG" accept="image/png" onFile={load} />
      </Part>
      <Part title="Frame">
        {SIDES.map((side) => (
          <NumberField
            key={side}
            label={side.charAt(0).toUpperCase() + side.slice(1)}
            value={document.margins[side]}
            unit="mm"
            least={0}
            most={200}
            onChange={(value) => put({ margins: { ...document.margins, [side]: value } })}
          />
        ))}
        <Check
          label="Centring marks"
          checked={document.centring}
          onChange={(centring) => put({ centring })}
        />
        <Check label="Zones" checked={document.zones} onChange={(zones) => put({ zones })} />
      </Part>
      <Part title="Own fields">
        {document.own_fields.map((f) => (
          <div key={f.key} className="flex items-center gap-1">
            <TextField
              label={`{${f.key}}`}
              value={f.caption}
              onEnter={(caption) =>
                put({ own_fields: document.own_fields.map((o) => (o.key === f.key ? { ...o, caption } : o)) })
              }
            />
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label={`Remove field ${f.caption}`}
              onClick={() => put({ own_fields: document.own_fields.filter((o) => o.key !== f.key) })}
            >
              <Trash2 size={12} />
            </button>
          </div>
        ))}
        <button
          type="button"
          className="btn btn-xs self-start"
          onClick={() => {
            const taken = new Set(document.own_fields.map((f) => f.key));
            const key = Array.from({ length: 20 }, (_, k) => `own${k + 1}`).find((k) => !taken.has(k));
            if (key) put({ own_fields: [...document.own_fields, { key, caption: "New field", value: "" }] });
          }}
        >
          <Plus size={12} /> Field
        </button>
      </Part>
    </>
  );
}

/** The part or area that is chosen: what it is measured from, its words. */
function Chosen({ sheet }: { sheet: Sheet }) {
  const { designing, setDesigning } = useSheetState();
  if (!designing) return null;
  const { document, chosen } = designing;
  const item = movable(document).find((m) => m.key === chosen);
  if (!item)
    return (
      <Part title="Parts">
        <p className="opacity-85">Choose a part or area on the sheet: drag it, size it by its corners.</p>
      </Part>
    );
  const [kind, number] = chosen.split(" ");
  const at = Number(number);
  const part = kind === "part" ? document.parts[at] : undefined;
  const area = kind === "area" ? document.areas[at] : undefined;
  const put = (next: DesignDocument) => setDesigning({ ...designing, document: next });
  const putPart = (changed: DesignPart) =>
    put({ ...document, parts: document.parts.map((p, k) => (k === at ? changed : p)) });
  const { region } = item;
  const across = region.left.share === region.right.share ? String(region.left.share) : "both";
  const up = region.base.share === region.top.share ? String(region.base.share) : "both";
  const share = (said: string) => (said === "both" ? null : Number(said));
  const from = (a: string, u: string) =>
    put(withRegion(document, chosen, regionFrom(region, frameOf(sheet, document), share(a), share(u))));
  return (
    <Part title={item.says}>
      {area && (
        <TextField
          label="Name"
          value={area.name}
          onEnter={(name) =>
            put({ ...document, areas: document.areas.map((x, k) => (k === at ? { ...x, name } : x)) })
          }
        />
      )}
      <Choice
        labelWidth="w-16"
        label="Across"
        value={across}
        options={[
          ["0", "keeps to the left"],
          ["0.5", "keeps to the middle"],
          ["1", "keeps to the right"],
          ["both", "stretches"],
        ]}
        onChange={(said) => from(said, up)}
      />
      <Choice
        labelWidth="w-16"
        label="Up"
        value={up}
        options={[
          ["0", "keeps to the base"],
          ["0.5", "keeps to the middle"],
          ["1", "keeps to the top"],
          ["both", "stretches"],
        ]}
        onChange={(said) => from(across, said)}
      />
      {part?.kind === "text" && (
        <textarea
          className="textarea textarea-xs w-full"
          aria-label="Words"
          rows={3}
          value={part.says}
          onChange={(event) => putPart({ ...part, says: event.target.value })}
        />
      )}
      {part?.kind === "title block" && <CellFields block={part} onChange={putPart} />}
      <button
        type="button"
        className="btn btn-xs self-start"
        onClick={() => setDesigning({ ...designing, chosen: "", document: without(document, chosen) })}
      >
        <Trash2 size={12} /> Remove
      </button>
    </Part>
  );
}
