import { useEffect, useRef, useState } from "react";
import type { FaceHandle } from "../../api/client";
import { correct, useFaces, withCorrection } from "../../api/corrections";
import { keptOf } from "../../corrections/FacesPart";
import { faceTo, movedOut, useHolding } from "../../corrections/holding";
import { letGoOfHand, showInHand, surround } from "../../corrections/trying";
import type { Place, Snap } from "../../desk/mode";
import { type Camera, type Spot, toScreen } from "../../drawing/camera";
import { Grip } from "../../drawing/canvas/Grip";
import { parseView, type View } from "../../drawing/screen-form";
import { askForView } from "../../drawing/use-view";
import { SNAP_REACH } from "../cutting/CuttingLine";
import { onModel, onPaper } from "../cutting/plan-geometry";
import { MarkAt } from "../cutting/SnapMark";
import { drawnIn } from "../cutting/snaps";
import type { Pane } from "../modes/tool";

const COLOUR = "var(--ink-cut)";
const SHORT = 1.5; // pixels; shorter edges have no grip until one zooms in
const NEAR = 10; // pixels; of grips nearer to each other that of the longer edge is there
const LEAST = 1e-4; // metres; a face that is moved by less stays
const STEP = 0.005; // metres that a drag goes by, where it snaps to nothing

/** Grips on the faces of what is held, in the drawing in which it was picked: each is dragged square to its face, and
 * snaps to what is drawn. */
export function FaceGrips({ pane, camera }: { pane: Pane; camera: Camera }) {
  const { of, face, by } = useHolding();
  const { project, drawing, spec, scale } = pane;
  const mine = of !== null && of.drawing === drawing?.id ? of.element : undefined;
  const { data } = useFaces(project, drawing, spec, mine);
  const before = useRef<View | null>(null);
  const held = drawing &&
    mine && {
      of: { id: drawing.id, view: drawing.view },
      element: mine,
      without: () => viewWithout(project.id, spec, mine),
    };
  const [snap, setSnap] = useState<Snap | null>(null);
  const [shown, view] = [drawing?.id, drawing?.view];
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked once for each state of the drawing
  useEffect(() => {
    if (held) surround(held);
  }, [shown, view, mine]);
  if (!mine || !data || !held) return null;
  const drag = (one: FaceHandle) => (paper: Spot, _shift: boolean, alt: boolean) => {
    before.current ??= pane.view;
    const at = onModel(paper, scale);
    const reach = (SNAP_REACH / camera.zoom) * (scale / 1000);
    const met = alt ? null : drawnIn(before.current).find(at, reach);
    setSnap(met);
    const far = along(one, met?.at ?? at);
    const by = met ? far : Math.round(far / STEP) * STEP;
    useHolding.setState({ face: one, by });
    const kept = keptOf(project, mine, one.face) ?? null;
    if (Math.abs(by) >= LEAST)
      showInHand({
        ...held,
        corrections: withCorrection(project, kept, faceTo(mine, one, movedOut(one, by), {})),
      });
  };
  const drop = (one: FaceHandle) => {
    const dragged = before.current !== null;
    before.current = null;
    setSnap(null);
    const { by: far } = useHolding.getState();
    if (!dragged || Math.abs(far) < LEAST) {
      letGoOfHand();
      useHolding.setState({ face: one, by: 0 });
      return;
    }
    const kept = keptOf(project, mine, one.face);
    const wanted = faceTo(mine, one, movedOut(one, far), { reason: kept?.reason });
    useHolding.setState({ face: null, by: 0 });
    void correct(project, kept ?? null, wanted).then((saved) => saved || letGoOfHand());
  };
  return (
    <g>
      {apart(data.faces, face, (at) => toScreen(camera, onPaper(at, scale))).map((one) => {
        const gripped = face === one;
        const far = gripped ? by : 0;
        const [a, b] = [shifted(one.start, one, far), shifted(one.end, one, far)];
        const [p, q] = [toScreen(camera, onPaper(a, scale)), toScreen(camera, onPaper(b, scale))];
        return (
          <g key={`${one.drawn.looks.join()} ${one.drawn.at}`}>
            {gripped && (
              <line
                x1={p.x}
                y1={p.y}
                x2={q.x}
                y2={q.y}
                stroke={COLOUR}
                strokeWidth={2.2}
                strokeDasharray="6 3"
                pointerEvents="none"
              />
            )}
            <Grip
              camera={camera}
              at={onPaper([(a[0] + b[0]) / 2, (a[1] + b[1]) / 2], scale)}
              label={nameOf(one)}
              colour={COLOUR}
              shape={gripped ? "diamond" : "round"}
              cursor={Math.abs(one.out[0]) > Math.abs(one.out[1]) ? "ew-resize" : "ns-resize"}
              onDrag={drag(one)}
              onDrop={() => drop(one)}
            />
          </g>
        );
      })}
      {snap && <MarkAt camera={camera} scale={scale} snap={snap} />}
    </g>
  );
}

/** A drawing without one of its elements. */
async function viewWithout(project: number, { cut, style }: Pane["spec"], element: string): Promise<View> {
  const body = { cut: { ...cut, left_out: [...(cut.left_out ?? []), element] }, style };
  const answer = await askForView(`/api/projects/${project}/view`, body);
  return parseView(await answer.arrayBuffer());
}

/** The faces whose grips can be told apart as far as one has zoomed in; the one in hand is always there. */
function apart(
  faces: readonly FaceHandle[],
  inHand: object | null,
  spotOf: (at: Place) => Spot,
): FaceHandle[] {
  const spots: Spot[] = [];
  return faces.filter((one) => {
    const [p, q] = [spotOf(one.start as Place), spotOf(one.end as Place)];
    const middle = { x: (p.x + q.x) / 2, y: (p.y + q.y) / 2 };
    const free = spots.every((other) => Math.hypot(other.x - middle.x, other.y - middle.y) >= NEAR);
    if (one !== inHand && (!free || Math.hypot(q.x - p.x, q.y - p.y) < SHORT)) return false;
    spots.push(middle);
    return true;
  });
}

/** How far out from a face a point lies, metres. */
const along = ({ start, out }: FaceHandle, [x, y]: Place) =>
  (x - start[0]) * out[0] + (y - start[1]) * out[1];

const shifted = ([x, y]: readonly [number, number], { out }: FaceHandle, by: number): Place => [
  x + out[0] * by,
  y + out[1] * by,
];

const WAYS = ["right", "upper right", "top", "upper left", "left", "lower left", "bottom", "lower right"];

/** A face by the side that it is on in the drawing. */
function nameOf({ out, start, end }: FaceHandle): string {
  const turn = Math.round(Math.atan2(out[1], out[0]) / (Math.PI / 4));
  const long = Math.hypot(end[0] - start[0], end[1] - start[1]);
  return `Face at the ${WAYS[(turn + 8) % 8]}, ${long.toFixed(2)} m long`;
}
