import type { CameraControls } from "@react-three/drei";
import type { RootState } from "@react-three/fiber";
import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import type {
  Drawing,
  DrawingPlanes,
  Element,
  ExtentsBox,
  PlaneCutFound,
  Project,
  Settings,
  SharedExtents,
  Stop,
} from "../api/client";
import { client, unwrap } from "../api/client";
import { keys, queryClient, report, useDrawings } from "../api/queries";
import { editBox, useSharedExtents } from "../api/shared-extents";
import { ElementFacts } from "../drawing/ElementFacts";
import { Part } from "../fields/Part";
import { startAnew, turnedIn, useModelBench } from "./bench-state";
import { colourOf, shownOf } from "./looks";
import { ModelCanvas } from "./ModelCanvas";
import { ModelLists } from "./ModelLists";
import type { Plane, V3 } from "./opening";
import { useStops } from "./PlaneGrip";
import { PlanePart } from "./PlanePart";
import type { Hit } from "./picking";
import { middleOf, planeOf } from "./plane-geometry";
import { SavePart } from "./SavePart";
import { ShowPart } from "./ShowPart";
import { saveBodies, savePicture } from "./saving";
import { FROM, useModelCommands } from "./use-model-commands";
import { useAllFaces, useOpening } from "./use-opening";
import { useParts, useSolid } from "./use-solid";
import { lookFrom, squareOnto, straight } from "./view-acts";

/** The building in three dimensions: a cut is found by hovering, sliding and turning a plane, and becomes a drawing. */
export function ModelBench({ project, settings }: { project: Project; settings: Settings }) {
  const { data: drawings = NO_DRAWINGS } = useDrawings(project.id);
  const { data: solid, error } = useSolid(project.id, project.revision);
  const planes = usePlanes(project.id, drawings);
  const state = useModelBench();
  const {
    plane,
    box,
    drawing,
    cutting,
    thickness,
    storey,
    kinds,
    elements,
    seeThrough,
    picked,
    colours,
    set,
  } = state;
  const loading = useParts(project.id, solid, 0);
  const opened = useOpening(planes, drawings, settings);
  const { faces, of, problem } = useAllFaces(project.id, opened);
  const { data: stops = NO_STOPS } = useStops(project.id, plane?.normal ?? null, solid?.geometry ?? "");
  const { found, problem: refused } = useFound(project.id, plane);
  const { data: boxes = NO_BOXES } = useSharedExtents(project.id);
  const [lost, setLost] = useState(false);
  const [place, setPlace] = useState<V3 | null>(null);
  const controls = useRef<CameraControls | null>(null);
  const three = useRef<RootState | null>(null);
  const navigate = useNavigate();
  useEffect(() => () => startAnew(), []);
  const shown = useMemo(
    () => shownOf(storey, kinds, elements, seeThrough),
    [storey, kinds, elements, seeThrough],
  );
  const colour = useMemo(() => colourOf(colours), [colours]);
  const sized = useMemo(() => boxes.map((b) => (b.id === box?.id ? box.now : b.box)), [boxes, box]);
  const resize = async (now: ExtentsBox | null) => {
    const shared = boxes.find((b) => b.id === box?.id);
    if (!box || !shared) return;
    if (now) {
      set({ box: { id: box.id, now } });
      return;
    }
    try {
      await editBox(shared, { box: box.now });
    } catch (wrong) {
      report(wrong);
      set({ box: null });
    }
    await queryClient.invalidateQueries({ queryKey: keys.sharedExtents(project.id) });
  };
  const middle: V3 = solid ? middleOf(solid) : [0, 0, 0];
  const like = drawings.find((d) => d.id === drawing);

  const toPlane = (next: Plane) => set({ plane: next });
  const choose = useCallback(
    (id: number) => {
      const gone = useModelBench.getState().drawing === id && !useModelBench.getState().plane;
      const others = new Set(useModelBench.getState().others);
      others.delete(id);
      set({ drawing: gone ? null : id, plane: null, box: null, others, says: "" });
    },
    [set],
  );
  const takeUp = () => {
    const leaf = planes.find((p) => p.drawing === drawing)?.leaves[0];
    if (leaf && solid) set({ plane: planeOf(leaf, solid) });
  };
  const pick = (hit: Hit | null) => {
    set({ picked: hit ? hit.element.guid : null });
    setPlace(hit ? hit.at : null);
  };
  const draw = async ({ perspective = false, keep = false } = {}) => {
    if (!plane) return;
    try {
      const path = { params: { path: { id: project.id } } };
      const cut = await unwrap<PlaneCutFound>(
        client.POST("/api/projects/{id}/planes", {
          ...path,
          body: { ...plane, depth: thickness, perspective, like: null },
        }),
      );
      const made = await unwrap<Drawing>(
        client.POST("/api/projects/{id}/drawings", {
          ...path,
          body: { parent_id: cut.parent_id, name: "", cut: cut.cut, style: settings.new_style },
        }),
      );
      await queryClient.invalidateQueries({ queryKey: keys.drawings(project.id), exact: true });
      if (!keep) set({ drawing: made.id, plane: null });
      toast(`${made.title} is made.`, {
        action: { label: "Open it", onClick: () => navigate(`/projects/${project.id}?drawing=${made.id}`) },
      });
    } catch (wrong) {
      report(wrong);
    }
  };
  const give = async () => {
    if (!plane || !like) return;
    try {
      const cut = await unwrap<PlaneCutFound>(
        client.POST("/api/projects/{id}/planes", {
          params: { path: { id: project.id } },
          body: { ...plane, depth: null, perspective: false, like: like.id },
        }),
      );
      await unwrap(
        client.PATCH("/api/drawings/{id}", {
          params: { path: { id: like.id } },
          body: { version: like.version, cut: cut.cut, callout: null, letter: null, name: null, style: null },
        }),
      );
      await queryClient.invalidateQueries({ queryKey: keys.drawings(project.id), exact: true });
      set({ plane: null });
    } catch (wrong) {
      report(wrong);
      await queryClient.invalidateQueries({ queryKey: keys.drawings(project.id), exact: true });
    }
  };
  const view = (act: (c: CameraControls) => unknown) => controls.current && act(controls.current);
  useModelCommands({ project, solid, place, view, draw });

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
        <ModelLists project={project} planes={planes} drawings={drawings} boxes={boxes} onChoose={choose} />
      </aside>
      <main className="relative flex min-w-0 flex-1 flex-col" aria-label="The building">
        {(error || loading.problem) && (
          <p role="alert" className="alert alert-error m-2">
            {error?.message ?? loading.problem}
          </p>
        )}
        {lost && (
          <p role="alert" className="alert alert-warning m-2">
            The graphics of this machine were taken away; the view comes back when they do.
          </p>
        )}
        <div
          className="min-h-0 flex-1"
          data-faces={of}
          data-area={faces[0]?.faces.area.toFixed(4)}
          data-stage={loading.done === loading.of && loading.of > 0 ? "whole" : "loading"}
        >
          {!HAS_WEBGL ? (
            <p role="alert" className="p-8">
              This browser shows nothing in three dimensions (it has no WebGL 2). The lists and typed values
              beside this still work, and so do all other benches.
            </p>
          ) : (
            solid && (
              <ModelCanvas
                solid={solid}
                parts={loading.parts}
                planes={planes}
                stops={stops}
                opening={opened.opening}
                faces={faces}
                shown={shown}
                colour={colour}
                boxes={sized}
                onBox={resize}
                controls={controls}
                three={three}
                onPick={pick}
                onCut={(next) => set({ plane: next, cutting: false, drawing: null, box: null })}
                onMove={toPlane}
                onDrop={() => set({ says: "" })}
                onChoose={choose}
                onLost={setLost}
              />
            )
          )}
        </div>
        <footer className="flex h-6 shrink-0 items-center gap-3 border-t border-base-300 bg-base-200 px-3 text-xs">
          <span role="status">{state.says || hintOf(cutting, plane !== null, drawing !== null)}</span>
          <span className="flex-1" />
          {loading.of > 0 && loading.done < loading.of && (
            <progress
              className="progress progress-primary w-32"
              value={loading.done}
              max={loading.of}
              aria-label="Loading the model"
            />
          )}
          <span className="figures">{Math.round(loading.of).toLocaleString("en")} triangles</span>
        </footer>
      </main>
      <aside
        aria-label="Particulars"
        className="flex w-64 shrink-0 flex-col overflow-y-auto border-l border-base-300"
      >
        <h2 className="flex h-8 shrink-0 items-center border-b border-base-300 px-3 font-semibold">
          Particulars
        </h2>
        {plane && solid && (
          <PlanePart
            plane={plane}
            found={found}
            problem={refused || problem}
            stops={stops}
            middle={middle}
            like={like ? { id: like.id, title: like.title } : null}
            onPlane={toPlane}
            onDraw={draw}
            onGive={give}
            onSquare={() => view((c) => squareOnto(c, solid, plane))}
            onLeave={() => set({ plane: null, says: "" })}
          />
        )}
        {!plane && like && (
          <Part title={like.title}>
            {problem && (
              <p role="alert" className="text-error">
                {problem}
              </p>
            )}
            <div className="flex flex-wrap gap-1">
              <button type="button" className="btn btn-xs" onClick={takeUp}>
                Move its plane
              </button>
              <button
                type="button"
                className="btn btn-xs"
                onClick={() => navigate(`/projects/${project.id}?drawing=${like.id}`)}
              >
                Open the drawing
              </button>
              <button
                type="button"
                className="btn btn-xs"
                onClick={() => {
                  const leaf = planes.find((p) => p.drawing === like.id)?.leaves[0];
                  if (leaf && solid) view((c) => squareOnto(c, solid, planeOf(leaf, solid)));
                }}
              >
                Look square onto it
              </button>
            </div>
          </Part>
        )}
        <PickedFacts
          project={project.id}
          guid={picked}
          onHide={(guid) => set({ elements: turnedIn(elements, guid), picked: null })}
        />
        <ShowPart
          onView={(name) => solid && view((c) => straight(c, solid, name))}
          onFit={() => solid && view((c) => lookFrom(c, solid, FROM))}
        />
        <SavePart
          slice={plane !== null && thickness !== null}
          onBodies={(form) => saveBodies(project.id, form, opened.opening, plane ? thickness : null, state)}
          onPicture={(wide, high) => three.current && savePicture(three.current, project.name, wide, high)}
        />
      </aside>
    </div>
  );
}

const HAS_WEBGL = (() => {
  try {
    return document.createElement("canvas").getContext("webgl2") !== null;
  } catch {
    return false;
  }
})();

const hintOf = (cutting: boolean, plane: boolean, drawing: boolean) =>
  cutting
    ? "Point at a face and click to cut there; X, Y, Z lock the direction, F follows the face"
    : plane
      ? "Drag the red grip, or type where it lies; Enter makes it a drawing, Esc leaves it"
      : drawing
        ? "Opened at its cut; press C to look for another one"
        : "Drag to turn, wheel to come nearer, C to cut";

/** The planes of all drawings; asked for again when a drawing changes. */
function usePlanes(project: number, drawings: Drawing[]): DrawingPlanes[] {
  const said = drawings.map((d) => `${d.id} ${d.view}`).join();
  const { data } = useQuery({
    queryKey: ["planes", project, said],
    enabled: said !== "",
    placeholderData: (before: DrawingPlanes[] | undefined) => before,
    queryFn: () =>
      unwrap<DrawingPlanes[]>(client.GET("/api/projects/{id}/planes", { params: { path: { id: project } } })),
  });
  return data ?? NO_PLANES;
}
const NO_PLANES: DrawingPlanes[] = [];
const NO_STOPS: Stop[] = [];
const NO_BOXES: SharedExtents[] = [];
const NO_DRAWINGS: Drawing[] = [];

/** What a plane gives as a cut; asked for when it rests. */
function useFound(project: number, plane: Plane | null) {
  const [rested, setRested] = useState<Plane | null>(null);
  useEffect(() => {
    const timer = setTimeout(() => setRested(plane), 150);
    return () => clearTimeout(timer);
  }, [plane]);
  const { data, error } = useQuery({
    queryKey: ["plane", project, rested],
    enabled: rested !== null,
    retry: false,
    queryFn: () =>
      unwrap<PlaneCutFound>(
        client.POST("/api/projects/{id}/planes", {
          params: { path: { id: project } },
          body: { ...(rested as Plane), depth: null, perspective: false, like: null },
        }),
      ),
  });
  return {
    found: plane && rested ? (data ?? null) : null,
    problem: plane && rested && error ? error.message : "",
  };
}

type PickedProps = { project: number; guid: string | null; onHide: (guid: string) => void };

function PickedFacts({ project, guid, onHide }: PickedProps) {
  const { data } = useQuery({
    queryKey: ["element", project, guid],
    enabled: guid !== null,
    queryFn: () =>
      unwrap<Element[]>(
        client.POST("/api/projects/{id}/elements", {
          params: { path: { id: project } },
          body: { cut: null, style: null, guids: [guid as string] },
        }),
      ),
  });
  const element = guid ? data?.[0] : undefined;
  return (
    element && (
      <Part title="Picked">
        <ElementFacts element={element} />
        <button type="button" className="btn btn-xs self-start" onClick={() => onHide(element.guid)}>
          Hide it here
        </button>
      </Part>
    )
  );
}
