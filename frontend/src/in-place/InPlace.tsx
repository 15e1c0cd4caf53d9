import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useNavigate } from "react-router";
import { AnnotateCommands } from "../annotating/AnnotateTools";
import { useAnnotate } from "../annotating/state";
import type { Drawing, Placement } from "../api/client";
import { useBench } from "../desk/drawings-state";
import { useSheetState, type WorkedOn, type Working } from "../desk/sheet-state";
import { toScreen } from "../drawing/camera";
import { setCamera } from "../drawing/use-camera";
import { useView } from "../drawing/use-view";
import { useCallouts, useMarkersOf } from "../drawings-bench/callouts/use-callouts";
import { ResultPane } from "../drawings-bench/desk/ResultPane";
import { canTurn, turnedRound, useSaving } from "../drawings-bench/desk/use-saving";
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
  const busy = useBusyAtEscape();
  useHotkeys("escape", () => !busy.current && close());
  const { setLive, setPicked } = useBench();
  const { liveOf, saveNow, dropCut } = useSaving(project.id);
  const { shownIn, calledIn } = useMarkersOf(project.id, drawing);
  const said = JSON.stringify(drawings.map((d) => [d.id, d.title]));
  const titles = useMemo(() => new Map<number, string>(JSON.parse(said)), [said]);
  const open = (id: number) => navigate(`/projects/${project.id}?drawing=${id}`);
  const calloutsOf = useCallouts({
    drawings,
    current: drawing,
    onPlan: drawing?.cut.kind === "plan",
    enabled: drawing !== undefined,
    liveOf,
    calledIn,
    saveNow,
  });
  const ready = useSameView(project.id, drawing, placement, working);
  useEffect(() => () => setPicked(null), [setPicked]);
  if (!placement || !drawing) return null;
  const turned = canTurn(drawing) ? turnedRound((liveOf(drawing) ?? drawing).cut) : undefined;
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
          <ResultPane
            name="Result"
            project={project.id}
            drawings={drawings}
            titles={titles}
            settings={settings}
            storeys={project.facts.storeys}
            onChoose={open}
            onBeside={open}
            markers={shownIn(drawing)}
            called={calloutsOf(drawing)}
            drawing={drawing}
            live={liveOf(drawing)}
            onCut={(cut) => setLive({ id: drawing.id, cut, style: (liveOf(drawing) ?? drawing).style })}
            onDrop={() => dropCut(drawing)}
            onSave={(change) => saveNow(drawing, change)}
            onTurn={turned && (() => saveNow(drawing, { cut: turned }))}
          />
        </div>
      )}
    </div>
  );
}

/** Whether something was under way when Escape was pressed: that key ends it then, and not the work on the drawing. */
function useBusyAtEscape() {
  const busy = useRef(false);
  useEffect(() => {
    const note = (event: KeyboardEvent) => {
      if (event.key !== "Escape") return;
      const { clicking, calling, measure } = useBench.getState();
      const { tool, chosen } = useAnnotate.getState();
      busy.current =
        clicking !== null || calling !== null || measure !== null || tool !== null || chosen !== null;
    };
    window.addEventListener("keydown", note, true);
    return () => window.removeEventListener("keydown", note, true);
  }, []);
  return busy;
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
  const turned = canTurn(drawing) ? turnedRound(shown.cut) : undefined;
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
