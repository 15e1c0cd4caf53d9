import type { CameraControls } from "@react-three/drei";
import type { RootState } from "@react-three/fiber";
import { Focus, SquareArrowOutUpRight } from "lucide-react";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { Cut, Drawing, Project, Settings, Stop, Style } from "../api/client";
import { faceCut, faceStyle } from "./building/faces";
import { heightOf } from "./building/storeys";
import { TooLarge } from "./building/TooLarge";
import { useFaces } from "./building/use-faces";
import { useParts, useSolid } from "./building/use-solid";
import { LOST, NeedsWebGl } from "./building/webgl";
import { AS_DRAWN, startAnew, useModelBench } from "./model-state";
import { cross, type Opening, plus, type Taking, type V3 } from "./opening/opening";
import { middleOf, sizeOf } from "./opening/plane-geometry";
import { SCALE } from "./opening/use-opening";
import { usePlanes } from "./planes/use-planes";
import { ModelCanvas } from "./view/ModelCanvas";
import { useShowing } from "./view/use-showing";
import { lookInto } from "./view/view-acts";

const NO_STOPS: Stop[] = [];
const NONE = 0; // the number of no drawing
const ROOMY = 1.6; // of what a detail shows, how much of the model around it is seen

type Props = {
  project: Project;
  settings: Settings;
  drawings: Drawing[];
  drawing: Drawing | undefined;
  /** What the drawing is made of now, while something of it is dragged too. */
  cut: Cut;
  style: Style;
  /** What is picked in the drawings beside it (GlobalId). */
  lit: ReadonlySet<string>;
  onPick: (guid: string | null) => void;
  onChoose: (drawing: number) => void;
};

/** The building opened where the drawing beside it cuts: it follows the cut while that moves, and lights what is
 * picked there. */
export function ModelPane({ project, settings, drawings, drawing, cut, style, lit, ...acts }: Props) {
  const { data: solid } = useSolid(project.id, project.revision);
  const planes = usePlanes(project.id, drawings, drawing?.id ?? NONE);
  const loading = useParts(project.id, solid, heightOf(drawing, drawings, project), "");
  const like = useMemo(() => (drawing ? { ...drawing, cut, style } : undefined), [drawing, cut, style]);
  useEffect(() => {
    useModelBench.setState({ drawing: drawing?.id ?? null, shownSet: AS_DRAWN });
  }, [drawing?.id]);
  useEffect(() => () => startAnew(), []);
  const showing = useShowing(project, like, settings.new_style.standard);
  const wanted = useMemo(() => {
    if (cut.kind === "blank") return [];
    const spec = {
      cut: faceCut(cut, showing.hiding),
      style: faceStyle(settings.new_style, showing.standard, SCALE),
    };
    return [{ ...spec, key: JSON.stringify(spec) }];
  }, [cut, showing.hiding, showing.standard, settings.new_style]);
  const { found, problem } = useFaces(project.id, wanted);
  const faces = found[0]?.faces;
  const opening = useMemo<Opening>(() => (faces ? [faces.takings] : []), [faces]);
  const closed = useMemo(() => (faces ? [{ faces, others: [] }] : []), [faces]);
  const controls = useRef<CameraControls | null>(null);
  const three = useRef<RootState | null>(null);
  const [lost, setLost] = useState(false);
  const navigate = useNavigate();
  const look = useCallback(() => {
    const first = faces?.takings[0];
    if (!controls.current || !solid || !first) return;
    const { middle, size } = sightOf(cut, first) ?? { middle: middleOf(solid), size: sizeOf(solid) };
    void lookInto(controls.current, first, middle, size);
  }, [faces, solid, cut]);
  const fresh = found[0] && found[0].key === wanted[0]?.key;
  const seen = useRef<number | undefined>(undefined); // each drawing is looked into once; then people turn it
  useEffect(() => {
    if (!fresh || seen.current === drawing?.id) return;
    if (controls.current) seen.current = drawing?.id;
    look();
  }, [fresh, drawing?.id, look]);
  return (
    <section aria-label="Model" className="flex h-full min-h-0 flex-col">
      <header className="flex h-8 shrink-0 items-center gap-1 border-b border-base-300 bg-base-200 px-2">
        <h2 className="min-w-0 truncate font-semibold">In the model</h2>
        <span className="flex-1" />
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label="Look into the cut"
          title="Look into the cut"
          onClick={look}
        >
          <Focus size={13} />
        </button>
        {drawing && (
          <button
            type="button"
            className="btn btn-ghost btn-xs btn-square"
            aria-label="Open in the Model bench"
            title="Open in the Model bench (Shift M)"
            onClick={() => navigate(`/projects/${project.id}/model?drawing=${drawing.id}`)}
          >
            <SquareArrowOutUpRight size={13} />
          </button>
        )}
      </header>
      {(lost || problem || loading.problem || cut.kind === "blank") && (
        <p role="status" className="px-2 py-1 text-xs">
          {lost ? LOST : problem || loading.problem || "A blank detail is no cut of the model."}
        </p>
      )}
      {solid && <TooLarge solid={solid} />}
      <div className="min-h-0 flex-1" data-area={faces?.area.toFixed(4)} data-lit={[...lit].join(" ")}>
        <NeedsWebGl>
          {solid && (
            <ModelCanvas
              solid={solid}
              parts={loading.parts}
              planes={planes}
              stops={NO_STOPS}
              opening={opening}
              faces={closed}
              shown={showing.shown}
              colour={showing.colour}
              boxes={[]}
              north={project.facts.north}
              lit={lit}
              controls={controls}
              three={three}
              onPick={([hit]) => acts.onPick(hit?.element.guid ?? null)}
              onPoint={() => undefined}
              onCut={() => undefined}
              onMove={() => undefined}
              onDrop={() => undefined}
              onBox={() => undefined}
              onChoose={acts.onChoose}
              onLost={setLost}
            />
          )}
        </NeedsWebGl>
      </div>
    </section>
  );
}

/** What a drawing with all four edges set shows: its middle and size, metres. */
function sightOf({ extents }: Cut, { origin, u, w }: Taking): { middle: V3; size: number } | null {
  const { left, right, base, top } = extents ?? {};
  if (left == null || right == null || base == null || top == null) return null;
  const v = cross(u, w);
  const middle = plus(plus(origin, u, (left + right) / 2), v, (base + top) / 2);
  return { middle, size: Math.hypot(right - left, top - base) * ROOMY };
}
