import { useMemo } from "react";
import { actOnAnnotations, editAnnotation } from "../../api/annotations";
import type { Annotation } from "../../api/client";
import { type Camera, type Spot, toScreen } from "../../drawing/camera";
import { Grip } from "../../drawing/canvas/Grip";
import { unfolded } from "../../drawing/folds";
import type { View } from "../../drawing/screen-form";
import { useLengths } from "../../fields/lengths";
import { kindOf } from "../kinds/kinds";
import { useAnnotate } from "../state";
import { spotOf } from "../steps";
import { annotate, type Place } from "../tools";
import { type Annotating, onScreen } from "../use-annotating";
import { BodyGrip } from "./BodyGrip";

type Props = { project: number; camera: Camera; scale: number; view: View; annotating: Annotating };
const COLOUR = "var(--ink-depth)";
const REACH = 9; // pixels

/** Over a pane's drawing: the chosen annotations with their grips, what is being drawn, and what touch-ups took away.
 * `passive`: a tool takes the pointer. */
export function PaneAnnotations({ passive, ...props }: Props & { passive: boolean }) {
  const { project, camera, scale, view, annotating } = props;
  const flat = useMemo(() => (camera.folds ? { ...camera, folds: undefined } : camera), [camera]);
  const { chosen, active } = annotating;
  const only = chosen.length === 1 ? chosen[0] : undefined;
  return (
    <g>
      <Ghosts camera={flat} view={view} />
      {!passive && chosen.length > 0 && <Chosen {...{ project, chosen, scale }} camera={flat} />}
      {!passive && only && <Grips {...{ project, camera, scale, view, annotating }} one={only} flat={flat} />}
      {active && <DraftLines camera={camera} scale={scale} />}
    </g>
  );
}

/** Boxes around the chosen annotations, by which they are moved together. */
type ChosenProps = Pick<Props, "project" | "camera" | "scale"> & { chosen: Annotation[] };

function Chosen({ project, chosen, scale, camera }: ChosenProps) {
  const { dragged, setDragged } = useAnnotate();
  const ids = chosen.map((a) => a.id);
  const drop = async (by: Spot) => {
    const mm: [number, number] = [by.x * scale, by.y * scale];
    await actOnAnnotations(project, chosen[0]?.drawing_id ?? 0, ids, "move", { by: mm });
    setDragged(null);
  };
  const versions = Object.fromEntries(chosen.map((a) => [a.id, a.version]));
  return chosen.map((one) => {
    const mine = dragged && "versions" in dragged && dragged.versions[one.id] === one.version;
    const by = mine ? dragged.by : { x: 0, y: 0 };
    const [left, base, right, top] = one.box as [number, number, number, number];
    const corners = [
      [left, base],
      [right, base],
      [right, top],
      [left, top],
    ].map(([x, y]) => toScreen(camera, { x: (x as number) + by.x, y: (y as number) + by.y }));
    return (
      <BodyGrip
        key={one.id}
        label={`${one.document.kind}: move`}
        camera={camera}
        corners={corners}
        colour={one.state === "lost" ? "var(--color-error)" : COLOUR}
        onDrag={(to) => setDragged({ versions, by: to })}
        onDrop={drop}
      />
    );
  });
}

type GripsProps = Props & { one: Annotation; flat: Camera };

/** The grips of one annotation: its points, what it is tied to, its texts. */
function Grips({ project, camera, flat, scale, view, annotating, one }: GripsProps) {
  const { dragged, setDragged } = useAnnotate();
  const place = (paper: Spot): Place => {
    const plain = view.folds ? unfolded(view.folds, paper) : paper;
    return [plain.x * scale, plain.y * scale];
  };
  const snapped = (paper: Spot) => {
    const at = place(paper);
    const snap = annotating.index?.near(at, (REACH / camera.zoom) * scale) ?? null;
    return { at: snap?.at ?? at, snap };
  };
  const drop = async (name: string) => {
    const now = useAnnotate.getState().dragged;
    if (!now || "versions" in now) return;
    const [kind, number] = name.split(" ");
    const k = Number(number);
    if (kind === "anchor")
      await editAnnotation(project, one, {
        spots: { [k]: spotOf(snapped(now.to), (REACH / camera.zoom) * scale) },
      });
    else if (kind === "point") {
      const points = one.document.points.map((p, i) => (i === k ? place(now.to) : p));
      await editAnnotation(project, one, { change: { points } });
    } else if (kind === "turn" && one.document.kind === "symbol") {
      const [u, v] = one.document.points[0] as Place;
      const to = place(now.to);
      const angle = Math.round((Math.atan2(to[1] - v, to[0] - u) * 180) / Math.PI);
      await editAnnotation(project, one, { change: { angle } });
    } else if (kind === "text" && one.document.kind === "dimension") {
      const grip = one.grips.find((g) => g.name === name);
      const before = one.document.said.find((s) => s.index === k);
      const was = before?.moved ?? [0, 0];
      const moved = [was[0] + now.to.x - (grip?.at[0] ?? 0), was[1] + now.to.y - (grip?.at[1] ?? 0)];
      const said = [
        ...one.document.said.filter((s) => s.index !== k),
        { index: k, typed: before?.typed ?? "", under: before?.under ?? "", moved },
      ];
      await editAnnotation(project, one, { change: { said } });
    }
    setDragged(null);
  };
  return one.grips.map((grip) => {
    const held = dragged && "grip" in dragged && dragged.id === one.id && dragged.grip === grip.name;
    const at = held ? dragged.to : { x: grip.at[0], y: grip.at[1] };
    const from = toScreen(flat, { x: grip.at[0], y: grip.at[1] });
    const to = toScreen(flat, at);
    return (
      <g key={grip.name}>
        {held && <line x1={from.x} y1={from.y} x2={to.x} y2={to.y} stroke={COLOUR} strokeDasharray="4 3" />}
        <Grip
          camera={flat}
          at={at}
          label={`${one.document.kind}: ${WORDS[grip.name.split(" ")[0] ?? ""] ?? "move"} ${grip.name.split(" ")[1] ?? ""}`}
          colour={
            grip.name.startsWith("anchor") && one.held[Number(grip.name.split(" ")[1])]?.state === "lost"
              ? "var(--color-error)"
              : COLOUR
          }
          shape={
            grip.name.startsWith("anchor") ? "diamond" : grip.name.startsWith("point") ? "square" : "round"
          }
          onDrag={(paper) => setDragged({ id: one.id, grip: grip.name, to: paper })}
          onDrop={() => drop(grip.name)}
        />
      </g>
    );
  });
}

const WORDS: Record<string, string> = { anchor: "reference", point: "point", text: "text", turn: "turn" };

/** What a tool has so far, and what the pointer is drawn to. */
function DraftLines({ camera, scale }: { camera: Camera; scale: number }) {
  const { tool, picks = [], pointer } = annotate.useHeld() ?? {};
  const { say } = useLengths();
  const spots = picks.map((p) => onScreen(camera, p.at, scale));
  const to = pointer && onScreen(camera, pointer.at, scale);
  const last = picks.at(-1);
  const all = to && picks.length > 0 ? [...spots, to] : spots;
  const path = all.map((p, k) => `${k === 0 ? "M" : "L"}${p.x} ${p.y}`).join("");
  const far = last && pointer ? Math.hypot(pointer.at[0] - last.at[0], pointer.at[1] - last.at[1]) / 1000 : 0;
  const colour = kindOf(tool)?.group === "Touch up" ? "var(--ink-touch)" : COLOUR;
  return (
    <g pointerEvents="none" data-draft={picks.length}>
      {path && <path d={path} fill="none" stroke={colour} strokeWidth={1.4} strokeDasharray="5 4" />}
      {spots.map((p) => (
        <circle key={`${p.x} ${p.y}`} cx={p.x} cy={p.y} r={4} fill={colour} />
      ))}
      {to && far > 0 && <Words x={to.x + 12} y={to.y - 8} text={say(far)} colour={colour} />}
      {to && pointer?.snap && (
        <g data-snap={pointer.snap.word} stroke={colour}>
          <path d={`M${to.x - 8} ${to.y}H${to.x + 8}M${to.x} ${to.y - 8}V${to.y + 8}`} strokeWidth={1.6} />
          <Words x={to.x + 12} y={to.y + 16} text={pointer.snap.word} colour={colour} />
        </g>
      )}
    </g>
  );
}
function Words({ x, y, text, colour }: { x: number; y: number; text: string; colour: string }) {
  return (
    <text x={x} y={y} fontSize={12} fill={colour} stroke="var(--film)" strokeWidth={3} paintOrder="stroke">
      {text}
    </text>
  );
}

/** What touch-ups took away or changed, in violet. */
function Ghosts({ camera, view }: { camera: Camera; view: View }) {
  const ghosts = useAnnotate((s) => s.ghosts);
  if (!ghosts) return null;
  return (
    <g pointerEvents="none" data-ghosts={view.touched.length}>
      {view.touched.flatMap(({ source, ghost }) =>
        ghost.map((line, k) => (
          <polyline
            // biome-ignore lint/suspicious/noArrayIndexKey: lines of a touch-up have no name
            key={`${source} ${k}`}
            points={line
              .map(([x, y]) => toScreen(camera, { x, y }))
              .map((p) => `${p.x},${p.y}`)
              .join(" ")}
            fill="none"
            stroke="var(--ink-touch)"
            strokeWidth={2}
            strokeOpacity={0.7}
            strokeDasharray="6 3"
          />
        )),
      )}
    </g>
  );
}
