import type { ReactNode } from "react";
import { AnnotateToggle, AnnotateTools } from "../../annotating/AnnotateTools";
import { AnnotationCanvas } from "../../annotating/on-paper/AnnotationCanvas";
import { PaneAnnotations } from "../../annotating/on-paper/PaneAnnotations";
import { TextEditor } from "../../annotating/on-paper/TextEditor";
import type { SharedAxis } from "../../drawing/aligned";
import type { Camera, Spot } from "../../drawing/camera";
import { DrawingCanvas } from "../../drawing/canvas/DrawingCanvas";
import type { Shown } from "../../drawing/use-view";
import { DrawingPins } from "../../remarks/DrawingPins";
import { DrawnOutline } from "../bodies/DrawnOutline";
import { SnapMark } from "../cutting/SnapMark";
import { useGhost } from "../cutting/use-ghost";
import type { InHand, Pane } from "../modes/tool";
import { FaceGrips } from "../picking/FaceGrips";
import { PickedLines } from "../picking/PickedLines";
import { usePick } from "../picking/use-pick";
import { hidesMore, NothingHere } from "./NothingHere";
import { PaneFoot, PaneHead } from "./PaneFrame";

type Props = {
  name: "Source" | "Result";
  pane: Pane;
  shown: Shown;
  inHand: InHand | undefined;
  shared?: SharedAxis;
  /** What stands in its head, beside its name. */
  tools: ReactNode;
  /** What stands over a drawing that is offered. */
  offer?: ReactNode;
  /** What can be done next, where nothing is in hand. */
  hint: ReactNode;
  children: (camera: Camera) => ReactNode;
};

/** A drawing on its film with what is in hand, and with nothing in hand: what is clicked is picked. */
export function DrawingPane({ name, pane, shown, inHand, shared, children, ...props }: Props) {
  const { drawing, spec, scale, view, annotating, save } = pane;
  const project = pane.project.id;
  const title = drawing?.title ?? "New section";
  const ghost = useGhost(project, spec);
  const pick = usePick(project, drawing, spec);
  const drawn = (camera: Camera) => (
    <g>
      {children(camera)}
      {drawing && <PickedLines drawing={drawing.id} camera={camera} scale={scale} />}
      {drawing && <DrawnOutline drawing={drawing.id} camera={camera} scale={scale} />}
      {!inHand && <FaceGrips pane={pane} camera={camera} />}
      {drawing && view && (
        <PaneAnnotations {...{ project, camera, scale, view, annotating }} passive={inHand !== undefined} />
      )}
      {inHand?.Over && <inHand.Over pane={pane} camera={camera} />}
      {drawing && <DrawingPins drawing={drawing} camera={camera} scale={scale} />}
      {pane.side === "source" || inHand ? <SnapMark camera={camera} scale={scale} /> : null}
    </g>
  );
  return (
    <section className="flex h-full flex-col" aria-label={name}>
      <PaneHead
        title={title}
        scale={scale}
        busy={shown.busy}
        drawing={drawing}
        onRename={(words) => save({ name: words })}
      >
        {drawing && <AnnotateToggle drawing={drawing.id} />}
        {props.tools}
      </PaneHead>
      {props.offer}
      <div className="flex min-h-0 flex-1">
        {drawing && <AnnotateTools drawing={drawing.id} />}
        <div className="relative min-w-0 flex-1">
          <DrawingCanvas
            name={`${name}: ${title}`}
            cameraKey={drawing ? `drawing ${drawing.id}` : "new section"}
            view={view}
            ghost={ghost}
            shared={shared}
            cursor={inHand && "crosshair"}
            page={annotating.page}
            layer={(camera) => <AnnotationCanvas shapes={annotating.shapes} camera={camera} />}
            over={(camera) =>
              drawing && <TextEditor {...{ project, drawing, camera, scale }} standard={pane.standard} />
            }
            onClick={(at) => {
              if (inHand) inHand.click(at, pane);
              else if (drawing && !annotating.choose(at)) pick.onClick(at);
            }}
            onDoubleClick={(at) => (inHand ? inHand.doubleClick(at, pane) : annotating.edit(at))}
            onMove={(at) => inHand?.move(at, pane)}
            onBox={boxOf(pane, inHand, pick.onBox)}
          >
            {drawn}
          </DrawingCanvas>
          {view?.empty && spec.cut.kind !== "blank" && (
            <NothingHere
              cut={spec.cut}
              hides={drawing !== undefined && hidesMore(spec.cut, pane.settings)}
              onShow={(cut) => save({ cut })}
            />
          )}
        </div>
      </div>
      <PaneFoot problem={shown.problem} findings={view?.findings}>
        {inHand ? <inHand.Foot pane={pane} /> : props.hint}
      </PaneFoot>
    </section>
  );
}

type Box = (from: Spot, to: Spot, shift: boolean) => void;

/** What a box that is drawn does: what the tool in hand says, or it takes what lies in it. */
function boxOf(pane: Pane, inHand: InHand | undefined, pick: Box): Box | undefined {
  if (inHand) return inHand.box && ((from, to) => inHand.box?.(from, to, pane));
  if (!pane.drawing) return undefined;
  return (from, to, shift) => {
    if (!pane.annotating.chooseIn(from, to)) pick(from, to, shift);
  };
}
