import { Download } from "lucide-react";
import { useRef } from "react";
import { toast } from "sonner";
import type { DesignDocument, Sheet } from "../../api/client";
import { useDesignActs, useDesigns } from "../../api/designs";
import { useSheetActs } from "../../api/sheet-acts";
import { useSheetState } from "../../desk/sheet-state";
import { Choice } from "../../fields/Choice";
import { FileField } from "../../fields/FileField";
import { Part } from "../../fields/Part";
import { handOver } from "../../shell/hand-over";
import { DesignFields } from "./DesignFields";

/** The design of the sheet: chosen, copied, changed on the sheet itself, kept as a file. */
export function DesignPart({ sheet }: { sheet: Sheet }) {
  const { data: designs = [] } = useDesigns(sheet.project_id);
  const { add, remove } = useDesignActs(sheet.project_id);
  const { edit } = useSheetActs(sheet.project_id);
  const { designing, setDesigning } = useSheetState();
  const file = useRef<HTMLInputElement>(null);
  const design = designs.find((d) => d.key === sheet.design);
  if (designing) return <DesignFields sheet={sheet} />;
  const change = async () => {
    if (!design) return;
    const own = design.id === null ? await add.mutateAsync({ copy_of: design.key }) : design;
    if (design.id === null) await edit.mutateAsync({ sheet, change: { design: own.key } });
    setDesigning({ design: own, document: own.document, chosen: "" });
  };
  const read = async (chosen: File) => {
    try {
      const document = JSON.parse(await chosen.text()) as DesignDocument;
      const made = await add.mutateAsync({ document });
      edit.mutate({ sheet, change: { design: made.key } });
    } catch (error) {
      if (error instanceof SyntaxError) toast.error(`${chosen.name} is no sheet design (JSON).`);
    }
  };
  const save = () => {
    if (!design) return;
    const document = JSON.stringify(design.document, null, 2);
    handOver(new Blob([document], { type: "application/json" }), `${design.name}.json`);
  };
  return (
    <Part title="Sheet design">
      <Choice
        labelWidth="w-16"
        label="Design"
        value={sheet.design}
        options={designs.map((d) => [d.key, d.name])}
        onChange={(key) => edit.mutate({ sheet, change: { design: key } })}
      />
      {design && (
        <p className="text-xs opacity-85">
          {design.sheets === 1 ? "One sheet has it." : `${design.sheets} sheets have it.`}{" "}
          {design.id === null && "Changing it makes a copy for this sheet."}
        </p>
      )}
      <div className="flex flex-wrap gap-1">
        <button type="button" className="btn btn-xs" disabled={!design || add.isPending} onClick={change}>
          Change it here
        </button>
        <button type="button" className="btn btn-xs" disabled={!design} onClick={save}>
          <Download size={12} /> JSON
        </button>
        <button type="button" className="btn btn-xs" onClick={() => file.current?.click()}>
          Read JSON
        </button>
        {design?.id && design.sheets === 0 && (
          <button type="button" className="btn btn-xs" onClick={() => remove.mutate(design)}>
            Delete
          </button>
        )}
      </div>
      <FileField field={file} label="A sheet design as JSON" accept=".json,application/json" onFile={read} />
    </Part>
  );
}
