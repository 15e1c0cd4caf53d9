import { Download } from "lucide-react";
import { memo, useMemo, useRef, useState } from "react";
import { AnnotationsPart } from "../../annotating/AnnotationsPart";
import { ChosenPart } from "../../annotating/ChosenPart";
import { TouchUpsPart } from "../../annotating/TouchUpsPart";
import type { Cut, Drawing, Marker, Project, Settings, Sheet, Style } from "../../api/client";
import { type DrawingChange, useOutputs, useStandards } from "../../api/queries";
import { BodyPart } from "../../corrections/BodyPart";
import { Departing, Part } from "../../fields/Part";
import { PartIndex } from "../../fields/PartIndex";
import { DisciplinesPart } from "../../parts/DisciplinesPart";
import { ComparePart } from "../../revisions/ComparePart";
import { CalloutPart } from "../callouts/CalloutPart";
import { BreaksPart } from "../extents/BreaksPart";
import { ExtentsPart } from "../extents/ExtentsPart";
import { StripPart } from "../extents/StripPart";
import { PickedPart } from "../picking/PickedPart";
import { CutPart } from "./CutPart";
import { CutReportPart } from "./CutReportPart";
import { ExceptionsPart } from "./ExceptionsPart";
import { GivePart } from "./GivePart";
import { GraphicsPart } from "./GraphicsPart";
import { HoldPart } from "./HoldPart";
import { MarkerPart } from "./MarkerPart";
import { PlacementPart } from "./PlacementPart";
import { RulePart } from "./RulePart";
import { partsOf } from "./rule-lines";
import { ShownPart } from "./ShownPart";
import { SurfacesPart } from "./SurfacesPart";
import { WaysPart } from "./WaysPart";

type Props = {
  project: Project;
  drawing: Drawing;
  cut: Cut;
  style: Style;
  settings: Settings;
  sheets: Sheet[];
  onSave: (change: DrawingChange) => void;
  onTurn: () => void;
  drawings: Drawing[];
  /** The markers that the drawing shows. */
  shownHere: Marker[];
  onChoose: (drawing: number) => void;
  /** The drawing in which something is picked. */
  picked: Drawing | undefined;
  onSavePicked: (drawing: Drawing, change: { cut?: Cut; style?: Style }) => void;
};

/** The settings of a drawing, in the order in which people set them. */
export const Particulars = memo(function Particulars({
  project,
  drawing,
  cut,
  style,
  settings,
  sheets,
  ...props
}: Props) {
  const { onSave, onTurn, picked, onSavePicked, drawings, shownHere, onChoose } = props;
  const outputs = useOutputs("drawings");
  const { data: standards = [] } = useStandards(project.id);
  const parts = useRef<HTMLDivElement>(null);
  const departing = useMemo(() => partsOf(drawing.departs), [drawing.departs]);
  return (
    <aside aria-label="Particulars" className="flex h-full flex-col bg-base-200">
      <h2 className="flex h-8 shrink-0 items-center border-b border-base-300 px-3 font-semibold">
        Particulars
        <PartIndex within={parts} marked={departing} />
      </h2>
      <Departing value={departing}>
        <div ref={parts} className="flex-1 overflow-y-auto">
          {picked && (
            <div className="relative">
              <PickedPart
                project={project.id}
                drawing={picked}
                cut={picked.cut}
                style={picked.style}
                standard={standards.find((s) => s.key === picked.style.standard)}
                onSave={(change) => onSavePicked(picked, change)}
              />
            </div>
          )}
          <BodyPart project={project} />
          <ChosenPart
            project={project.id}
            drawing={drawing}
            drawings={drawings}
            standard={standards.find((s) => s.key === style.standard)}
          />
          <NamePart key={`${drawing.id} ${drawing.name}`} drawing={drawing} onSave={onSave} />
          <RulePart key={`rule ${drawing.id}`} project={project.id} drawing={drawing} />
          {drawing.callout ? (
            <CalloutPart
              drawing={drawing}
              callout={drawing.callout}
              cut={cut}
              style={style}
              parent={drawings.find((d) => d.id === drawing.parent_id)}
              onSave={onSave}
              onChoose={onChoose}
            />
          ) : (
            <CutPart project={project} drawing={drawing} cut={cut} onSave={onSave} onTurn={onTurn} />
          )}
          {cut.kind === "section" && !drawing.callout && (
            <CutReportPart
              key={drawing.id}
              project={project.id}
              drawing={drawing}
              cut={cut}
              style={style}
              onSave={onSave}
            />
          )}
          <ExtentsPart project={project.id} drawing={drawing} cut={cut} style={style} onSave={onSave} />
          <BreaksPart cut={cut} onSave={onSave} />
          <GraphicsPart
            project={project}
            cut={cut}
            style={style}
            settings={settings}
            standards={standards}
            onSave={onSave}
          />
          <SurfacesPart
            drawing={drawing}
            style={style}
            standard={standards.find((s) => s.key === style.standard)}
            onSave={onSave}
          />
          {cut.kind === "plan" && cut.look === "down" && (
            <StripPart
              project={project.id}
              cut={cut}
              style={style}
              sections={drawings.filter((d) => d.kind === "section" && d.cut.kind === "section")}
              onSave={onSave}
            />
          )}
          <MarkerPart cut={cut} style={style} onSave={onSave} />
          <AnnotationsPart
            project={project.id}
            drawing={drawing}
            style={style}
            onSave={onSave}
            onChoose={onChoose}
          />
          <TouchUpsPart project={project.id} drawing={drawing} />
          <HoldPart key={`hold ${drawing.id}`} drawing={drawing} revision={project.revision} />
          <ComparePart project={project} drawing={drawing} scale={style.scale} />
          <ExceptionsPart
            cut={cut}
            style={style}
            standard={standards.find((s) => s.key === style.standard)}
            onSave={onSave}
          />
          <DisciplinesPart project={project} cut={cut} style={style} onSave={onSave} />
          <ShownPart project={project} cut={cut} onSave={onSave} />
          <WaysPart drawing={drawing} drawings={drawings} shown={shownHere} onChoose={onChoose} />
          <GivePart key={`give ${drawing.id}`} project={project.id} drawing={drawing} />
          <PlacementPart project={project.id} drawing={drawing} sheets={sheets} />
          <Part title="Export">
            <div className="flex flex-wrap gap-1">
              {outputs.map(({ form, name }) => (
                <a
                  key={form}
                  className="btn btn-xs"
                  href={`/api/drawings/${drawing.id}/export.${form}`}
                  download
                >
                  <Download size={12} /> {name}
                </a>
              ))}
            </div>
          </Part>
        </div>
      </Departing>
    </aside>
  );
});

/** The name; of a section its letter too. */
function NamePart({ drawing, onSave }: Pick<Props, "drawing" | "onSave">) {
  const [name, setName] = useState(drawing.name);
  const done = () => name !== drawing.name && onSave({ name });
  return (
    <Part title="Name">
      <input
        aria-label="Name"
        className="input input-xs w-full"
        value={name}
        placeholder={drawing.title}
        onChange={(event) => setName(event.target.value)}
        onBlur={done}
        onKeyDown={(event) => event.key === "Enter" && done()}
      />
      {drawing.letter && (
        <label className="flex items-center gap-2">
          <span className="w-20 shrink-0 opacity-80">Letter</span>
          <input
            key={drawing.letter}
            aria-label="Letter"
            className="input input-xs w-16 uppercase"
            defaultValue={drawing.letter}
            maxLength={4}
            pattern="[A-Za-z0-9]+"
            onBlur={(event) => {
              const letter = event.target.value.trim().toUpperCase();
              if (letter && letter !== drawing.letter && event.target.validity.valid) onSave({ letter });
              else event.target.value = drawing.letter;
            }}
            onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
          />
        </label>
      )}
    </Part>
  );
}
