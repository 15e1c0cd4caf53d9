import { CameraControls, CameraControlsImpl } from "@react-three/drei";
import { Canvas, type RootState, useFrame, useThree } from "@react-three/fiber";
import {
  type PointerEvent,
  type ReactNode,
  type RefObject,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import * as THREE from "three";
import type { DrawingPlanes, ExtentsBox, Light, Solid, Stop } from "../../api/client";
import { Building, type ColourOf, type ShownOf } from "../building/Building";
import { CutFaces, type FacesOfCut } from "../building/CutFaces";
import { clipUniforms, setOpening } from "../building/clip-material";
import type { LoadedPart } from "../building/use-solid";
import { FaceGrips, type HeldFaces } from "../faces/FaceGrips";
import { GroundHandles } from "../ground/GroundHandles";
import type { GroundPoint } from "../ground/ground-points";
import { useModelBench } from "../model-state";
import type { Opening, Plane, V3 } from "../opening/opening";
import { Grips, reachOf } from "../planes/Grips";
import { Letters } from "../planes/Letters";
import { LookArrow } from "../planes/LookArrow";
import { Boxes, CUT, Framed, SavedPlanes, SliceBand } from "../planes/Standing";
import { STILL } from "../planes/use-drag";
import { Compass, TurnCompass } from "./Compass";
import { numberOf } from "./numbered";
import { PointerNote } from "./PointerNote";
import { Pace, useBudget } from "./pace";
import { type Hit, hitsBy } from "./picking";
import { type Pointed, pointedAt } from "./pointing";
import { SunLight } from "./SunLight";
import { FROM, fitDepth, lookFrom, setFlat, WIDE, walk } from "./view-acts";

const { ACTION } = CameraControlsImpl;
const ROUGH = 0.6; // of the pixels, while a view moves on a machine that can't keep up
const REST = 350; // ms after which a view that moved rests
const EASY = 500_000; // triangles up to which what lies under a pointer is looked for all the time
const STRIDE = 0.4; // metres that a notch of the wheel walks on

type Props = {
  solid: Solid;
  parts: LoadedPart[];
  planes: DrawingPlanes[];
  /** Where the plane may come to rest. */
  stops: Stop[];
  opening: Opening;
  faces: FacesOfCut[];
  shown: ShownOf;
  colour: ColourOf;
  boxes: ExtentsBox[];
  /** The direction to north in plan. */
  north: readonly [number, number];
  /** Elements that are lit (GlobalId). */
  lit: ReadonlySet<string>;
  controls: RefObject<CameraControls | null>;
  three: RefObject<RootState | null>;
  /** What lies under a click, the nearest first. */
  onPick: (hits: Hit[]) => void;
  /** What lies under the pointer. */
  onPoint: (hit: Hit | null) => void;
  onCut: (plane: Plane) => void;
  onMove: (plane: Plane) => void;
  onDrop: () => void;
  onBox: (box: ExtentsBox | null) => void;
  onChoose: (drawing: number) => void;
  onLost: (lost: boolean) => void;
  /** Points of the ground that are given other heights here. */
  ground?: GroundPoint[];
  onRaise?: (point: GroundPoint, height: number) => void;
  /** Faces of an element that are pushed and pulled. */
  held?: HeldFaces;
  /** Nothing but the building: no planes, no grips. */
  bare?: boolean;
  /** What stands over the picture beside, at places of the model (`data-at`). */
  over?: ReactNode;
  /** The light of the sun, where it shines. */
  light?: Light;
};

type Spot = { clientX: number; clientY: number };

/** The building, opened where it is cut; hovered, clicked, turned about what lies under the pointer. */
export function ModelCanvas(props: Props) {
  const { solid, parts, planes, opening, shown, controls, three, onPick, onPoint, onCut } = props;
  const { plane, box, cutting, lock, offset, drawing, pointed, thickness, removed, flat, walking, coming } =
    useModelBench();
  const held = props.bare || coming ? null : plane;
  const [hover, setHover] = useState<{ pointed: Pointed; at: { x: number; y: number } } | null>(null);
  const [moving, setMoving] = useState(false);
  const overlay = useRef<HTMLDivElement>(null);
  const pressed = useRef<{ x: number; y: number } | null>(null);
  const rest = useRef(0);

  const rayAt = useCallback(
    (event: Spot): THREE.Ray | null => {
      const state = three.current;
      if (!state) return null;
      const box = state.gl.domElement.getBoundingClientRect();
      const at = new THREE.Vector2(
        ((event.clientX - box.left) / box.width) * 2 - 1,
        1 - ((event.clientY - box.top) / box.height) * 2,
      );
      const caster = new THREE.Raycaster();
      caster.setFromCamera(at, state.camera);
      return caster.ray;
    },
    [three],
  );
  const hitsAt = (event: Spot): Hit[] => {
    const ray = rayAt(event);
    return ray ? hitsBy(ray, parts, shown, opening) : [];
  };
  const pointedBy = (event: Spot): Pointed | null => {
    const ray = rayAt(event);
    return ray && pointedAt(ray, { parts, shown, opening }, lock, solid);
  };
  const triangles = parts.reduce((sum, p) => sum + p.triangles.length / 3, 0);
  const point = (event: PointerEvent) => {
    if (event.buttons !== 0 || (!cutting && triangles > EASY)) return;
    const pointed = cutting ? pointedBy(event) : null;
    const frame = event.currentTarget.getBoundingClientRect();
    const at = { x: event.clientX - frame.left, y: event.clientY - frame.top };
    setHover(pointed && { pointed, at });
    onPoint((cutting ? pointed?.hit : hitsAt(event)[0]) ?? null);
  };
  useEffect(() => {
    if (!cutting) setHover(null);
  }, [cutting]);
  const down = (event: PointerEvent) => {
    pressed.current = { x: event.clientX, y: event.clientY };
    const hit = event.button === 0 && !walking ? hitsAt(event)[0] : undefined;
    if (hit) controls.current?.setOrbitPoint(...hit.at);
  };
  const up = (event: PointerEvent) => {
    const from = pressed.current;
    pressed.current = null;
    if (!from || event.button !== 0) return;
    if (Math.hypot(event.clientX - from.x, event.clientY - from.y) > STILL) return;
    const found = cutting ? pointedBy(event)?.planes : null;
    const cut = found?.[offset] ?? found?.face;
    if (cut) onCut(cut.plane);
    else if (!cutting) onPick(hitsAt(event));
  };
  const moved = useCallback(() => {
    setMoving(true);
    window.clearTimeout(rest.current);
    rest.current = window.setTimeout(() => setMoving(false), REST);
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a plane that moves moves the picture too
  useEffect(moved, [plane, moved]);
  const budget = useBudget(moving, triangles);
  const share = (part: LoadedPart) => Math.round(((budget / triangles) * part.triangles.length) / 3);
  const active = hover && (hover.pointed.planes[offset] ?? hover.pointed.planes.face);
  const reach = reachOf(solid);

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the lists beside it do the same by key
    <div
      className={`relative h-full w-full overflow-hidden bg-base-100 ${cutting ? "cursor-crosshair" : ""}`}
      data-model="yes"
      data-parts={parts.length}
      data-hover={active ? JSON.stringify(active.plane) : ""}
      data-light={props.light ? JSON.stringify(props.light.light) : ""}
      data-plane={plane ? JSON.stringify(plane) : ""}
      onPointerDown={down}
      onPointerUp={up}
      onPointerMove={point}
      onWheel={(event) => {
        if (walking && controls.current) walk(controls.current, -Math.sign(event.deltaY) * STRIDE);
      }}
      onPointerLeave={() => {
        setHover(null);
        onPoint(null);
      }}
      onContextMenu={(event) => event.preventDefault()}
    >
      <Canvas
        frameloop="demand"
        legacy // colours are those of the screen: no light is computed
        linear
        flat
        dpr={moving && budget < triangles ? ROUGH : 1}
        gl={{ antialias: false, powerPreference: "high-performance" }}
        camera={{ up: [0, 0, 1], fov: WIDE, near: 0.1, far: 2000, position: [0, -50, 30] }}
        onCreated={(state) => {
          three.current = state;
          state.gl.domElement.addEventListener("webglcontextlost", (event) => {
            event.preventDefault();
            props.onLost(true);
          });
          state.gl.domElement.addEventListener("webglcontextrestored", () => props.onLost(false));
        }}
      >
        <CameraControls
          ref={controls}
          makeDefault
          smoothTime={0}
          draggingSmoothTime={0}
          dollyToCursor
          minPolarAngle={0.001}
          maxPolarAngle={Math.PI - 0.001}
          mouseButtons-wheel={walking ? ACTION.NONE : ACTION.DOLLY}
          onChange={moved}
        />
        <Begin solid={solid} controls={controls} flat={flat} />
        <Pace moving={moving} />
        {props.light && (
          <SunLight light={props.light} solid={solid} of={[parts, shown, opening].map(numberOf).join()} />
        )}
        <Content
          {...props}
          moving={moving}
          budget={moving && budget < triangles ? share : null}
          removed={removed}
          sliding={coming !== null}
        />
        {hover &&
          Object.entries(hover.pointed.planes).map(([name, one]) => (
            <Framed
              key={name}
              plane={one.plane}
              solid={solid}
              colour={CUT}
              filled={one === active}
              faint={one !== active}
            />
          ))}
        {held && <Framed plane={held} solid={solid} colour={CUT} />}
        {held && <LookArrow plane={held} length={reach} colour={CUT} />}
        {held && thickness !== null && <SliceBand plane={held} solid={solid} thickness={thickness} />}
        <SavedPlanes planes={planes} chosen={drawing} pointed={pointed} sought={plane !== null} />
        {!props.bare && <Boxes boxes={props.boxes} chosen={box?.now ?? null} />}
        <Follow overlay={overlay} />
        <TurnCompass overlay={overlay} north={props.north} />
      </Canvas>
      <div ref={overlay} className="pointer-events-none absolute inset-0" data-overlay="">
        <Letters planes={planes} chosen={drawing} onChoose={props.onChoose} />
        {props.over}
        {!props.bare && <Compass />}
        {hover && <PointerNote pointed={hover.pointed} offset={offset} at={hover.at} />}
        <Grips
          plane={held}
          box={props.bare ? null : (box?.now ?? null)}
          stops={props.stops}
          solid={solid}
          rayAt={rayAt}
          three={three}
          controls={controls}
          onMove={props.onMove}
          onDrop={props.onDrop}
          onBox={props.onBox}
        />
        {props.held && !props.bare && <FaceGrips {...props.held} {...{ rayAt, three, controls }} />}
        {props.ground && props.onRaise && !props.bare && (
          <GroundHandles points={props.ground} onRaise={props.onRaise} {...{ rayAt, three, controls }} />
        )}
      </div>
    </div>
  );
}

type ContentProps = Pick<Props, "parts" | "opening" | "faces" | "shown" | "colour" | "lit" | "light"> & {
  moving: boolean;
  budget: ((part: LoadedPart) => number) | null;
  removed: "gone" | "ghost" | "outline";
  sliding: boolean;
};

function Content({
  parts,
  opening,
  faces,
  shown,
  colour,
  moving,
  budget,
  removed,
  sliding,
  ...more
}: ContentProps) {
  const { lit, light } = more;
  const uniforms = useMemo(clipUniforms, []);
  const invalidate = useThree((s) => s.invalidate);
  useEffect(() => {
    setOpening(uniforms, opening);
    invalidate();
  }, [uniforms, opening, invalidate]);
  return (
    <>
      {parts.map((part) => (
        <Building
          key={part.number}
          part={part}
          uniforms={uniforms}
          opening={opening}
          shown={shown}
          colour={colour}
          removed={removed}
          budget={budget ? budget(part) : null}
          edges={!moving}
          sliding={sliding}
          lit={lit}
          sunlit={light !== undefined}
        />
      ))}
      {faces.map(({ faces: one, others }, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: cuts in their order
        <CutFaces key={k} faces={one} others={others} strokes={!moving} />
      ))}
    </>
  );
}

type BeginProps = Pick<Props, "solid" | "controls"> & { flat: boolean };

/** Where the view begins, and that it stays when parts come. */
function Begin({ solid, controls, flat }: BeginProps) {
  const { camera, invalidate } = useThree();
  const begun = useRef("");
  useEffect(() => {
    const c = controls.current;
    if (!c || begun.current === solid.geometry) return;
    if (!begun.current) lookFrom(c, solid, FROM);
    begun.current = solid.geometry;
  }, [controls, solid]);
  const was = useRef(false);
  useEffect(() => {
    if (controls.current && flat !== was.current) setFlat(controls.current, flat);
    was.current = flat;
    invalidate();
  }, [controls, flat, invalidate]);
  useFrame(() => fitDepth(camera as THREE.PerspectiveCamera, solid));
  return null;
}

/** Keeps what lies over the picture at its place in the model: elements that have `data-at`. */
function Follow({ overlay }: { overlay: RefObject<HTMLDivElement | null> }) {
  useFrame(({ camera, size, gl }) => {
    if (overlay.current) {
      overlay.current.dataset.frame = String(gl.info.render.frame);
      overlay.current.dataset.eye = camera.position
        .toArray()
        .map((x) => x.toFixed(3))
        .join();
    }
    const at = new THREE.Vector3();
    for (const one of overlay.current?.querySelectorAll<HTMLElement>("[data-at]") ?? []) {
      const [x, y, z] = (one.dataset.at ?? "").split(",").map(Number) as V3;
      at.set(x, y, z).project(camera);
      const [left, top] = [((at.x + 1) / 2) * size.width, ((1 - at.y) / 2) * size.height];
      one.style.transform = `translate(${left}px, ${top}px) translate(-50%, -50%)`;
      one.style.visibility = at.z < 1 ? "visible" : "hidden";
    }
  });
  return null;
}
