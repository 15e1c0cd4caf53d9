import { EyeOff, X } from "lucide-react";
import { useHotkeys } from "react-hotkeys-hook";
import type { Cut, Drawing, Element, Standard, Style } from "../../api/client";
import { useProject } from "../../api/queries";
import { CorrectionsPart } from "../../corrections/CorrectionsPart";
import { FacesPart } from "../../corrections/FacesPart";
import { useBench } from "../../desk/drawings-state";
import { ElementFacts } from "../../drawing/ElementFacts";
import { InTables } from "../../drawing/InTables";
import { useLook } from "../../drawing/look";
import type { Frame } from "../../drawing/screen-form";
import { Part } from "../../fields/Part";
import { MaterialIs } from "../../materials/MaterialIs";
import { useCommand } from "../../shell/commands";
import { LookFields } from "../particulars/LookFields";

type Props = {
  project: number;
  drawing: Drawing;
  cut: Cut;
  style: Style;
  standard: Standard | undefined;
  onSave: (change: { cut?: Cut; style?: Style }) => void;
};

/** Facts of what is picked, and what to do with it in this drawing. */
export function PickedPart({ project, drawing, cut, style, standard, onSave }: Props) {
  const { data: of } = useProject(project);
  const { picked, setPicked } = useBench();
  const found = picked?.found ?? [];
  const single = picked !== null && !picked.many;
  const next = () => picked && setPicked({ ...picked, at: (picked.at + 1) % found.length });
  const chosen = picked?.many ? found : found.slice(picked?.at ?? 0, (picked?.at ?? 0) + 1);
  const leaveOut = (guids: string[], kinds: string[]) => {
    setPicked(null);
    onSave({
      cut: {
        ...cut,
        left_out: [...new Set([...(cut.left_out ?? []), ...guids])],
        without: [...new Set([...(cut.without ?? []), ...kinds])].sort(),
      },
    });
  };
  const hide = () =>
    leaveOut(
      chosen.map((e) => e.guid),
      [],
    );
  useHotkeys("tab", next, { enabled: single && found.length > 1, preventDefault: true }, [picked]);
  useCommand({
    name: "Hide what is picked",
    group: "Drawing",
    keys: "shift+h",
    enabled: picked !== null,
    run: hide,
  });
  const box = picked && boxOf(chosen, style.scale);
  useCommand({
    name: "Zoom to what is picked",
    group: "Drawing",
    keys: "shift+z",
    enabled: box !== null,
    run: () => picked && box && useLook.getState().lookAt(`drawing ${picked.drawing}`, box),
  });
  if (!picked) return null;
  const element = chosen[0];
  const who = picked.many ? "several" : element?.guid;
  return (
    <Part title={`Picked in ${drawing.title}`}>
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square absolute right-1"
        aria-label="Let go"
        onClick={() => setPicked(null)}
      >
        <X size={12} />
      </button>
      {picked.many ? (
        <>
          <p>{found.length} elements</p>
          <p className="text-xs opacity-80">With Shift more are picked, or let go.</p>
        </>
      ) : (
        element && <ElementFacts element={element} />
      )}
      <MaterialIs key={`is ${who}`} project={project} elements={chosen} />
      <CorrectionsPart project={project} elements={chosen} onCorrected={() => setPicked(null)}>
        {of && element && chosen.length <= 2 && (
          <FacesPart
            project={of}
            drawing={drawing}
            spec={{ cut, style }}
            element={element}
            other={chosen[1]}
          />
        )}
      </CorrectionsPart>
      {!picked.many && element && (
        <>
          <InTables project={project} target={`element:${element.guid}`} />
          {found.length > 1 && (
            <button type="button" className="link self-start text-xs" onClick={next}>
              {`${picked.at + 1} of ${found.length}`} here; Tab goes to what lies behind
            </button>
          )}
        </>
      )}
      <button type="button" className="btn btn-xs justify-start" onClick={hide}>
        <EyeOff size={13} /> {picked.many ? "Hide them here" : "Hide it here"}
      </button>
      {!picked.many && element && (
        <button
          type="button"
          className="btn btn-xs justify-start"
          onClick={() => leaveOut([], [element.kind])}
        >
          <EyeOff size={13} /> Hide every {element.kind} here
        </button>
      )}
      <LookFields chosen={chosen} cut={cut} style={style} standard={standard} onSave={onSave} />
    </Part>
  );
}

/** Around the lines of elements, mm on paper. */
function boxOf(elements: Element[], scale: number): Frame | null {
  const points = elements.flatMap((e) => e.lines.flat());
  if (points.length === 0) return null;
  const [us, vs] = [points.map((p) => p[0] as number), points.map((p) => p[1] as number)];
  return [Math.min(...us), Math.min(...vs), Math.max(...us), Math.max(...vs)].map(
    (metres) => (metres * 1000) / scale,
  ) as Frame;
}
