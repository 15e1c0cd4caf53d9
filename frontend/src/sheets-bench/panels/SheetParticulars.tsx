import type { Drawing, Project, Settings, Sheet } from "../../api/client";
import { useDesigns } from "../../api/designs";
import { useSheetActs } from "../../api/sheet-acts";
import { useSheetState } from "../../desk/sheet-state";
import { Choice } from "../../fields/Choice";
import { Part } from "../../fields/Part";
import { TextField } from "../../fields/TextField";
import { DesignPart } from "../design/DesignPart";
import { ArrangePart } from "./ArrangePart";
import { PlacedPart } from "./PlacedPart";
import { PlacementPart } from "./PlacementPart";
import { TablesPart } from "./TablesPart";

type Props = { project: Project; sheet: Sheet; drawings: Drawing[]; settings: Settings };
const FIELDS = [
  ["revision", "Revision"],
  ["date", "Date"],
  ["drawn", "Drawn"],
  ["checked", "Checked"],
] as const;

/** The chosen placement, or the sheet: number, title, size, design, title-block fields, drawings. */
export function SheetParticulars({ project, sheet, drawings, settings }: Props) {
  const { chosen, designing } = useSheetState();
  const placed = sheet.placements.filter((p) => chosen.includes(p.id));
  return (
    <aside aria-label="Sheet particulars" className="flex h-full flex-col">
      <h2 className="flex h-8 shrink-0 items-center border-b border-base-300 px-3 font-semibold">
        {designing ? "Sheet design" : placed.length > 0 ? "Chosen" : "Particulars"}
      </h2>
      <div className="flex-1 overflow-y-auto">
        {placed.length > 0 && !designing ? (
          <PlacementPart sheet={sheet} placed={placed} drawings={drawings} />
        ) : (
          <>
            {!designing && <SheetFieldsPart project={project} sheet={sheet} settings={settings} />}
            <DesignPart sheet={sheet} />
            {!designing && <ArrangePart sheet={sheet} drawings={drawings} />}
            {!designing && <PlacedPart sheet={sheet} drawings={drawings} />}
            {!designing && <TablesPart sheet={sheet} />}
          </>
        )}
      </div>
    </aside>
  );
}

function SheetFieldsPart({ project, sheet, settings }: Omit<Props, "drawings">) {
  const { edit } = useSheetActs(sheet.project_id);
  const { data: designs = [] } = useDesigns(sheet.project_id);
  const change = (part: Parameters<typeof edit.mutate>[0]["change"]) => edit.mutate({ sheet, change: part });
  const design = designs.find((d) => d.key === sheet.design);
  const own = sheet.fields.own ?? {};
  return (
    <>
      <Part title="Sheet">
        <TextField label="Number" value={sheet.number} onEnter={(number) => change({ number })} figures />
        <TextField label="Title" value={sheet.title} onEnter={(title) => change({ title })} />
        <Choice
          labelWidth="w-16"
          label="Size"
          value={sheet.size}
          options={settings.sheet_sizes.map((s) => [s, s])}
          onChange={(size) => change({ size: size as Sheet["size"] })}
        />
        <Choice
          labelWidth="w-16"
          label="Folder"
          value={sheet.folder}
          options={project.sheet_register.folders.map((f) => [f.key, f.name])}
          onChange={(folder) => change({ folder })}
        />
      </Part>
      <Part title="Title block">
        {FIELDS.map(([key, label]) =>
          sheet.issued && (key === "revision" || key === "date") ? null : (
            <TextField
              key={key}
              label={label}
              value={sheet.fields[key] ?? ""}
              mayBeEmpty
              onEnter={(text) => change({ fields: { ...sheet.fields, [key]: text } })}
            />
          ),
        )}
        {sheet.issued && (
          <p className="text-xs opacity-85">
            Revision and date are those of issue <b className="figures">{sheet.issued}</b>.
          </p>
        )}
        {design?.document.own_fields.map((f) => (
          <TextField
            key={f.key}
            label={f.caption}
            value={own[f.key] ?? ""}
            placeholder={f.value}
            mayBeEmpty
            onEnter={(text) => change({ fields: { ...sheet.fields, own: { ...own, [f.key]: text } } })}
          />
        ))}
      </Part>
    </>
  );
}
