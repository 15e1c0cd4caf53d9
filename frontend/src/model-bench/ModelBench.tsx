import type { CameraControls } from "@react-three/drei";
import type { RootState } from "@react-three/fiber";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type {
  Drawing,
  DrawingPlanes,
  Project,
  Settings,
  SharedExtents,
  Stop,
  Viewpoint,
} from "../api/client";
import { useDrawings } from "../api/queries";
import { useSharedExtents } from "../api/shared-extents";
import { useViewpoints } from "../api/viewpoints";
import type { FacesOfCut } from "../model/building/CutFaces";
import { boxOf } from "../model/building/opened-elements";
import { heightOf, isPlanOf } from "../model/building/storeys";
import { TooLarge } from "../model/building/TooLarge";
import { useParts, useSolid } from "../model/building/use-solid";
import { LOST, NeedsWebGl } from "../model/building/webgl";
import { startAnew, turnedIn, useModelBench } from "../model/model-state";
import { openingsOf } from "../model/opening/opening";
import { middleOf, planeOf } from "../model/opening/plane-geometry";
import { saveBodies, savePicture } from "../model/opening/saving";
import { useAllFaces, useOpening } from "../model/opening/use-opening";
import { foundCuts, standingPlanes } from "../model/planes/found-cuts";
import { useStops } from "../model/planes/PlaneGrip";
import { useMaking } from "../model/planes/use-making";
import { useFound, usePlanes } from "../model/planes/use-planes";
import { ModelCanvas } from "../model/view/ModelCanvas";
import { pointAt } from "../model/view/under-pointer";
import { useLight } from "../model/view/use-light";
import { useShowing } from "../model/view/use-showing";
import {
  comeNear,
  eyeOf,
  FROM,
  lookFrom,
  planeFacing,
  squareOnto,
  squareOntoLeaf,
  straight,
  whence,
} from "../model/view/view-acts";
import { seenNow } from "../model/viewpoints/seen";
import { ModelPins } from "../remarks/ModelPins";
import { useCommand } from "../shell/commands";
import { GroundPart } from "./ground/GroundPart";
import { useGroundPoints } from "./ground/use-ground-points";
import { ChosenPart } from "./panels/ChosenPart";
import { ModelFoot } from "./panels/ModelFoot";
import { ModelLists } from "./panels/ModelLists";
import { PickedFacts } from "./panels/PickedFacts";
import { PlanePart } from "./panels/PlanePart";
import { SavePart } from "./panels/SavePart";
import { ShowPart } from "./panels/ShowPart";
import { ViewPart } from "./panels/ViewPart";
import { useBoxes } from "./use-boxes";
import { useFaceGrips } from "./use-face-grips";
import { useLinked } from "./use-linked";
import { useModelCommands } from "./use-model-commands";
import { usePicking } from "./use-picking";
import { Presentation } from "./viewpoints/Presentation";
import { usePictures } from "./viewpoints/use-pictures";
import { usePresenting } from "./viewpoints/use-presenting";
import { useTravel } from "./viewpoints/use-travel";
import { ViewpointsPart } from "./viewpoints/ViewpointsPart";

/** The building in three dimensions: a cut is found by hovering, sliding and turning a plane, and becomes a drawing. */
export function ModelBench({ project, settings }: { project: Project; settings: Settings }) {
  const { data: known } = useDrawings(project.id);
  const drawings = known ?? NO_DRAWINGS;
  const { data: solid, error } = useSolid(project.id, project.revision);
  const planes = usePlanes(project.id, drawings);
  const {
    plane,
    drawing,
    others,
    cutting,
    thickness,
    storey,
    kinds,
    elements,
    picked,
    find,
    pointed,
    sun,
    coming,
    set,
  } = useModelBench();
  const sought = coming ? null : plane; // one that slides to its place by itself is none that somebody looks for
  const standing = useMemo(() => {
    const used = new Set([...others, ...[drawing, pointed].filter((id) => id !== null)]);
    return standingPlanes(planes, foundCuts(planes, drawings, find), used);
  }, [planes, drawings, find, others, drawing, pointed]);
  const like = drawings.find((d) => d.id === drawing);
  useLinked(like);
  const loading = useParts(project.id, known && solid, heightOf(like, drawings, project), storey);
  const usual = settings.new_style.standard;
  const showing = useShowing(project, plane ? undefined : like, usual);
  const opened = useOpening(planes, drawings, settings, showing);
  const { faces, of, problem } = useAllFaces(project.id, opened);
  const { data: stops = NO_STOPS } = useStops(project.id, sought?.normal ?? null, solid?.geometry ?? "");
  const { found, problem: refused } = useFound(project.id, sought);
  const { data: boxes = NO_BOXES } = useSharedExtents(project.id);
  const { sized, resize } = useBoxes(project.id, boxes);
  const light = useLight(project.id, sun, like?.id ?? null);
  const ground = useGroundPoints(project.id, solid);
  const held = useFaceGrips(project, solid);
  const { draw, drawView, give } = useMaking(project, settings);
  const lit = useMemo(() => new Set(picked ? [picked] : []), [picked]);
  const [lost, setLost] = useState(false);
  const controls = useRef<CameraControls | null>(null);
  const three = useRef<RootState | null>(null);
  useEffect(() => () => startAnew(), []);

  const choose = useCallback(
    (id: number) => {
      const now = useModelBench.getState();
      const gone = now.drawing === id && !now.plane;
      const others = new Set(now.others);
      others.delete(id);
      set({ drawing: gone ? null : id, plane: null, box: null, others, says: "" });
    },
    [set],
  );
  const { data: viewpoints = NO_VIEWPOINTS } = useViewpoints(project.id);
  const travel = useTravel({ solid, planes, drawings, boxes, controls });
  const stage = useRef<HTMLElement | null>(null);
  const { presenting, begin, leave } = usePresenting(stage);
  const settled = loading.done === loading.of && (opened.wanted.length === 0 || opened.wanted[0]?.key === of);
  const pictures = usePictures(project.name, travel, three, settled);
  const seen = (says: string) =>
    controls.current && seenNow(useModelBench.getState(), eyeOf(controls.current), says);
  const present = () => {
    const first = viewpoints.find((v) => v.id === useModelBench.getState().viewpoint) ?? viewpoints[0];
    if (first) travel(first, false);
    begin();
  };
  useCommand({
    name: "Present the viewpoints",
    group: "Model",
    enabled: viewpoints.length > 0 && !presenting,
    run: present,
  });
  const stay = (act: (c: CameraControls) => unknown) => controls.current && act(controls.current);
  const view = (act: (c: CameraControls) => unknown) => {
    set({ walking: false });
    return stay(act);
  };
  const leafOf = (id: number | undefined) => planes.find((p) => p.drawing === id)?.leaves[0];
  const square = (id: number) => {
    const leaf = leafOf(id);
    if (leaf && solid) view((c) => squareOntoLeaf(c, solid, leaf));
  };
  const takeUp = () => {
    const leaf = leafOf(like?.id);
    if (leaf && solid) set({ plane: planeOf(leaf, solid) });
  };
  const faceView = () =>
    solid &&
    stay((c) => {
      const point = plane?.point ?? middleOf(solid);
      set({ plane: planeFacing(c, point), cutting: false, box: null });
    });
  const toStorey = useRef<(guid: string) => void>(() => undefined);
  const lookAtStorey = useCallback((guid: string) => toStorey.current(guid), []);
  toStorey.current = (guid) => {
    const plan = drawings.find((d) => d.kind === "plan" && !d.callout && isPlanOf(d, guid));
    const storey = project.facts.storeys.find((s) => s.guid === guid);
    if (plan) set({ drawing: plan.id, plane: null, box: null, others: new Set(), cutting: false });
    else if (storey && solid) {
      const height = storey.elevation + solid.plan_height;
      set({ plane: { point: [0, 0, height], normal: [0, 0, 1] }, box: null, cutting: false });
    }
    if (solid) view((c) => straight(c, solid, "above"));
  };
  const { hit, hits, at, pick, next } = usePicking();
  const near = () => {
    if (!hit) return;
    const [low, high] = boxOf(hit.part, hit.element);
    view((c) => comeNear(c, low, high));
  };
  useModelCommands({
    project,
    solid,
    hit,
    view,
    stay,
    draw,
    faceView,
    near,
    next: hits.length > 1 ? next : undefined,
  });

  return (
    <div className="flex h-full min-h-0">
      <aside
        aria-label="Model"
        className="flex w-60 shrink-0 flex-col overflow-y-auto border-r border-base-300"
      >
        <h2 className="flex h-8 shrink-0 items-center border-b border-base-300 px-3 font-semibold">
          <span className="flex-1">Model</span>
          <button
            type="button"
            aria-pressed={cutting}
            className={`btn btn-xs ${cutting ? "btn-primary" : ""}`}
            onClick={() => set({ cutting: !cutting })}
          >
            Cut at a face <kbd className="kbd kbd-xs">C</kbd>
          </button>
        </h2>
        <ViewpointsPart
          project={project}
          viewpoints={viewpoints}
          seen={seen}
          onGo={(one) => travel(one, false)}
          onPresent={present}
          onPictures={pictures}
        />
        <ModelLists
          project={project}
          planes={planes}
          drawings={drawings}
          boxes={boxes}
          onChoose={choose}
          onStorey={lookAtStorey}
        />
      </aside>
      <main
        ref={stage}
        className={`flex min-w-0 flex-1 flex-col ${presenting ? "fixed inset-0 z-50 bg-base-100" : "relative"}`}
        aria-label="The building"
      >
        {(error || loading.problem) && (
          <p role="alert" className="alert alert-error m-2">
            {error?.message ?? loading.problem}
          </p>
        )}
        {lost && (
          <p role="alert" className="alert alert-warning m-2">
            {LOST}
          </p>
        )}
        {solid && <TooLarge solid={solid} />}
        <div
          className="min-h-0 flex-1"
          data-faces={of}
          data-area={faces[0]?.faces.area.toFixed(4)}
          data-stage={loading.done === loading.of && loading.of > 0 ? "whole" : "loading"}
        >
          <NeedsWebGl>
            {solid && (
              <ModelCanvas
                solid={solid}
                parts={loading.parts}
                planes={presenting ? NO_PLANES : standing}
                bare={presenting}
                stops={stops}
                opening={opened.opening}
                faces={coming ? NO_FACES : faces}
                shown={showing.shown}
                colour={showing.colour}
                boxes={sized}
                north={project.facts.north}
                lit={lit}
                onBox={resize}
                controls={controls}
                three={three}
                onPick={pick}
                onPoint={pointAt}
                onCut={(next) => set({ plane: next, cutting: false, drawing: null, box: null })}
                onMove={(next) => set({ plane: next })}
                onDrop={() => set({ says: "" })}
                onChoose={choose}
                onLost={setLost}
                ground={ground.shown}
                onRaise={ground.raise}
                held={held}
                light={light}
                over={presenting ? null : <ModelPins project={project.id} />}
              />
            )}
          </NeedsWebGl>
        </div>
        {presenting ? (
          <Presentation viewpoints={viewpoints} onGo={(one) => travel(one, false)} onLeave={leave} />
        ) : (
          <ModelFoot project={project} done={loading.done} of={loading.of} />
        )}
      </main>
      <aside
        aria-label="Particulars"
        className="flex w-64 shrink-0 flex-col overflow-y-auto border-l border-base-300"
      >
        <h2 className="flex h-8 shrink-0 items-center border-b border-base-300 px-3 font-semibold">
          Particulars
        </h2>
        {sought && solid && (
          <PlanePart
            plane={sought}
            found={found}
            problem={refused || problem}
            stops={stops}
            solid={solid}
            like={like}
            takers={drawings.filter((d) => !d.callout && d.id !== like?.id && d.cut.kind === found?.cut.kind)}
            onPlane={(next) => set({ plane: next })}
            onDraw={draw}
            onGive={give}
            onFace={faceView}
            onSquare={() => view((c) => squareOnto(c, solid, sought))}
            onLeave={() => set({ plane: null, says: "" })}
          />
        )}
        {!plane && like && (
          <ChosenPart
            drawing={like}
            problem={problem}
            ready={solid !== undefined && leafOf(like.id) !== undefined}
            onTakeUp={takeUp}
            onSquare={() => square(like.id)}
            onMade={(id) => !useModelBench.getState().plane && choose(id)}
          />
        )}
        <PickedFacts
          project={project}
          guid={picked}
          many={hits.length}
          at={at}
          onNext={next}
          onNear={near}
          onHideKind={(kind) => set({ kinds: turnedIn(kinds, kind), picked: null })}
          onHide={(guid) => set({ elements: turnedIn(elements, guid), picked: null })}
        />
        <ShowPart
          project={project.id}
          usual={usual}
          drawn={like !== undefined && !plane}
          like={like}
          onView={(name) => solid && view((c) => straight(c, solid, name))}
          onFit={() => solid && view((c) => lookFrom(c, solid, FROM))}
        />
        {solid && (
          <ViewPart
            turn={solid.turn}
            opened={opened.opening.length > 0}
            onLook={(towards) => {
              set({ flat: true });
              view((c) => lookFrom(c, solid, towards));
            }}
            onDraw={(perspective) =>
              stay((c) => drawView(whence(c, perspective), openingsOf(opened.opening), showing.hiding))
            }
          />
        )}
        <GroundPart project={project} boxes={boxes} picked={picked} handles={ground.handles} />
        <SavePart
          slice={plane !== null && thickness !== null}
          onBodies={(form) =>
            saveBodies(project.id, form, opened.opening, plane ? thickness : null, storey, showing)
          }
          onPicture={(wide, high) => three.current && savePicture(three.current, project.name, wide, high)}
        />
      </aside>
    </div>
  );
}

const NO_STOPS: Stop[] = [];
const NO_FACES: FacesOfCut[] = [];
const NO_PLANES: DrawingPlanes[] = [];
const NO_VIEWPOINTS: Viewpoint[] = [];
const NO_BOXES: SharedExtents[] = [];
const NO_DRAWINGS: Drawing[] = [];
