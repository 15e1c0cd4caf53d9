import { useEffect, useLayoutEffect, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useNavigate } from "react-router";
import { AnnotateCommands } from "../annotating/AnnotateTools";
import type { Drawing, Placement } from "../api/client";
import { useBench } from "../desk/drawings-state";
import { useSheetState, type WorkedOn, type Working } from "../desk/sheet-state";
import { toScreen } from "../drawing/camera";
import { setCamera } from "../drawing/use-camera";
import { useView } from "../drawing/use-view";
import { useMarkersOf } from "../drawings-bench/callouts/use-callouts";
import { useBenchOf } from "../drawings-bench/desk/bench";
import { turnedRound, useSaving } from "../drawings-bench/desk/use-saving";
import { stepBack } from "../drawings-bench/modes/tools";
import { ResultPane } from "../drawings-bench/panes/ResultPane";
import { Particulars } from "../drawings-bench/particulars/Particulars";

const AROUND = 30; // mm of the sheet about a drawing that are its room to work in
const HEAD = 32; // pixels, of a pane
const LEAST = { wide: 420, high: 300 }; // pixels that work needs

/** A drawing worked on where it stands on its sheet, the rest of it greyed: extents, annotations, touch-ups, breaks. */
export function InPlace({ project, settings, sheet, working, drawings }: Omit<WorkedOn, "sheets">) {
  const { setWorking } = useSheetState();
  const navigate = useNavigate();
  const placement = sheet.placements.find((p) => p.id === working.placement);
  const drawing = drawings.find((d) => d.id === placement?.drawing_id);
  const close = () => setWorking(null);
  useHotkeys("escape", () => stepBack() || close());
  const setPicked = useBench((s) => s.setPicked);
  const open = (id: number) => navigate(`/projects/${project.id}?drawing=${id}`);
  const bench = useBenchOf({
    project,
    settings,
    drawings,
    current: drawing,
    choose: open,
    beside: open,
    panes: [drawing],
  });
  const ready = useSameView(project.id, drawing, placement, working);
  useEffect(() => () => setPicked(null), [setPicked]);
  if (!placement || !drawing) return null;
  return (
    <div className="absolute inset-0 z-10 overflow-hidden">
      <AnnotateCommands enabled />
      <button
        type="button"
        aria-label="Back to the sheet"
        title="Back to the sheet (Esc)"
        className="absolute inset-0 cursor-pointer bg-base-300/70"
        onClick={close}
      />
      {ready && (
        <div
          className="absolute flex flex-col bg-base-100 shadow-xl outline-2 outline-[var(--ink-extents)]"
          style={placeOf(placement, working)}
        >
          <ResultPane bench={bench} name="Result" drawing={drawing} />
        </div>
      )}
    </div>
  );
}

/** The particulars of the drawing that is worked on. */
export function InPlaceParticulars({ project, settings, sheet, working, drawings, sheets }: WorkedOn) {
  const { picked } = useBench();
  const { liveOf, saveNow } = useSaving(project.id);
  const navigate = useNavigate();
  const placement = sheet.placements.find((p) => p.id === working.placement);
  const drawing = drawings.find((d) => d.id === placement?.drawing_id);
  const { shownIn } = useMarkersOf(project.id, drawing);
  if (!drawing) return null;
  const shown = liveOf(drawing) ?? drawing;
  const turned = turnedRound(drawing, shown.cut);
  return (
    <Particulars
      project={project}
      drawing={drawing}
      cut={shown.cut}
      style={shown.style}
      settings={settings}
      sheets={sheets}
      onSave={(change) => saveNow(drawing, change)}
      onTurn={() => turned && saveNow(drawing, { cut: turned })}
      picked={drawings.find((d) => d.id === picked?.drawing)}
      drawings={drawings}
      shownHere={shownIn(drawing)}
      onChoose={(id) => navigate(`/projects/${project.id}?drawing=${id}`)}
      onSavePicked={saveNow}
    />
  );
}

/** Where the pane stands in the canvas of the sheet: about the placement, and no smaller than work needs. */
function placeOf(placement: Placement, { camera }: Working) {
  const [left, base, right, top] = placement.whole;
  const a = toScreen(camera, { x: left - AROUND, y: top + AROUND });
  return {
    left: a.x,
    top: a.y - HEAD,
    width: Math.max(LEAST.wide, (right - left + 2 * AROUND) * camera.zoom),
    height: Math.max(LEAST.high, (top - base + 2 * AROUND) * camera.zoom + 2 * HEAD),
  };
}

/** Makes the pane look at the drawing just as the sheet does; whether it does so by now. */
function useSameView(
  project: number,
  drawing: Drawing | undefined,
  placement: Placement | undefined,
  working: Working,
): boolean {
  const { view } = useView(project, drawing, undefined);
  const [ready, setReady] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, as work begins
  useLayoutEffect(() => {
    if (!view || !drawing || !placement || ready) return;
    setCamera(`drawing ${drawing.id}`, {
      zoom: working.camera.zoom,
      left: view.frame[0] - AROUND,
      top: view.frame[3] + AROUND,
    });
    setReady(true);
  }, [view, drawing?.id]);
  return ready;
}
