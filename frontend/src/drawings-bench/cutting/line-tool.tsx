import type { Cut, DrawingRule, SectionCut, Settings } from "../../api/client";
import { client, unwrap } from "../../api/client";
import { addDrawing, putDrawing, queryClient, report } from "../../api/queries";
import { useBench } from "../../desk/drawings-state";
import { type Place, useMode } from "../../desk/mode";
import { ruleNow, seenBy, settingsBy } from "../../desk/rules";
import { toScreen } from "../../drawing/camera";
import type { PaperPointer } from "../../drawing/canvas/DrawingCanvas";
import { lengthsNow, useLengths } from "../../fields/lengths";
import { useCommand } from "../../shell/commands";
import { RuleChoice } from "../modes/RuleChoice";
import { type Over, type Pane, tool } from "../modes/tool";
import { DepthBand, SNAP_REACH, sideAndDepth } from "./CuttingLine";
import {
  type Drawn,
  draftCut,
  earlierStage,
  LEAST_LINE,
  type LineDraft,
  type Lining,
  line,
  withTyped,
} from "./line-draft";
import { distance, onModel, onPaper, rounded, straight } from "./plan-geometry";

export const LINE_HINT =
  "Press C, or the cut tool, to draw a cutting line. Click a marker to work on its section.";
const HINTS = {
  first: "Click where the cutting line begins; it snaps to what is near, not with Alt. Esc leaves.",
  second:
    "Click its other end; Shift keeps it straight; type a length, or length<angle, and press Enter. Esc steps back.",
  depth: "Move to the side to look at, and how deep; click. Tab turns round; type a depth and press Enter.",
} as const;
const WORDS: Record<Drawn, string> = {
  section: "",
  "wall section": "Wall section: ",
  elevation: "Elevation: ",
};
const SCALES: Partial<Record<Drawn, number>> = { "wall section": 20, elevation: 100 };
const TYPED = /^[-\d.,+*/()mcftin'"< ]$/;

export function startLine(drawn: Drawn) {
  useBench.getState().setPicked(null);
  line.set({ drawn, draft: { stage: "first" }, pointer: null, typed: "", making: false });
}

/** A line that stands where somebody proposed it (x, y, x, y); its side and depth are still to be chosen. */
export function startLineAt(project: number, settings: Settings, [ax, ay, bx, by]: number[]) {
  startLine("section");
  const now = line.now();
  const ruled = settingsBy(ruleNow(project, "section"), settings);
  if (now) line.set({ ...now, draft: deep([ax ?? 0, ay ?? 0], [bx ?? 0, by ?? 0], ruled) });
}

export const useLineCommand = (enabled: boolean) =>
  useCommand({
    name: "Draw a cutting line",
    group: "Drawing",
    keys: "c",
    enabled,
    run: () => startLine("section"),
  });

/** Drawing a cutting line on a plan: click, click, side and depth, click. */
export const lineTool = tool({
  held: line,
  works: (pane) => pane.side === "source" && pane.spec.cut.kind === "plan" && pane.drawing !== undefined,
  click: (at, pane, mode) => {
    const { draft } = mode;
    const p = onModel(at.paper, pane.scale);
    if (draft.stage === "depth") {
      useMode.getState().setSnap(null);
      void finish(pane, { ...draft, ...sideAndDepth(draft.a, draft.b, p) });
      return;
    }
    const next = placed(at, pane, draft.stage === "second" ? draft.a : undefined);
    if (draft.stage === "first") line.set({ ...mode, typed: "", draft: { stage: "second", a: next } });
    else if (distance(draft.a, next) < LEAST_LINE) line.set({ ...mode, typed: "" });
    else line.set({ ...mode, typed: "", draft: deep(draft.a, next, settingsOf(pane, mode.drawn)) });
  },
  move: (at, pane, mode) => {
    const { draft } = mode;
    if (draft.stage !== "depth") {
      const pointer = placed(at, pane, draft.stage === "second" ? draft.a : undefined);
      line.set({ ...mode, pointer });
      return;
    }
    useMode.getState().setSnap(null);
    const p = onModel(at.paper, pane.scale);
    const towards = mode.typed ? draft : { ...draft, ...sideAndDepth(draft.a, draft.b, p) };
    line.set({ ...mode, pointer: p, draft: towards });
  },
  key: ({ key }, pane, mode) => {
    const { draft, typed } = mode;
    if (key === "Enter") {
      enter(pane, mode);
      return true;
    }
    if (key === "Tab" && draft.stage === "depth") {
      line.set({ ...mode, draft: { ...draft, look: draft.look === "left" ? "right" : "left" } });
      return true;
    }
    if (draft.stage === "first") return false;
    if (key === "Backspace") line.set({ ...mode, typed: typed.slice(0, -1) });
    else if (TYPED.test(key)) line.set({ ...mode, typed: typed + key });
    return false;
  },
  back: (mode) => {
    const draft = earlierStage(mode.draft);
    return draft && { ...mode, draft, typed: "" };
  },
  Foot: LineFoot,
  Over: DraftLine,
});

/** What a line becomes begins by the rule that is picked for it. */
const settingsOf = ({ project, settings }: Pane, drawn: Drawn) =>
  settingsBy(ruleNow(project.id, drawn), settings);

const deep = (a: Place, b: Place, settings: Settings): LineDraft => ({
  stage: "depth",
  a,
  b,
  look: "left",
  depth: settings.new_section.depth ?? 5,
});

/** Where a point of the line comes to lie: straight from `a` with Shift, else snapped unless Alt is held. */
function placed({ paper, zoom, shift, alt }: PaperPointer, { scale, snapper }: Pane, a?: Place): Place {
  const { setSnap } = useMode.getState();
  const p = onModel(paper, scale);
  if (a && shift) {
    setSnap(null);
    return rounded(straight(a, p));
  }
  const snap = alt ? null : snapper.find(p, (SNAP_REACH / zoom) * (scale / 1000), a);
  setSnap(snap);
  return rounded(snap?.at ?? p);
}

function enter(pane: Pane, mode: Lining) {
  const { draft } = mode;
  const depth = settingsOf(pane, mode.drawn).new_section.depth ?? 5;
  const next = withTyped(mode, lengthsNow().parse, depth);
  if (draft.stage === "depth") void finish(pane, next ?? draft);
  else if (next) line.set({ ...mode, draft: next, typed: "" });
}

async function finish(pane: Pane, done: LineDraft) {
  const mode = line.now();
  if (!mode || mode.making) return;
  const rule = ruleNow(pane.project.id, mode.drawn);
  const settings = settingsBy(rule, pane.settings);
  const cut = draftCut(done, settings);
  if (!cut) return;
  line.set({ ...mode, draft: done, typed: "", making: true });
  const { project, drawing: plan } = pane;
  const scale = rule ? settings.new_style.scale : (SCALES[mode.drawn] ?? settings.new_style.scale);
  try {
    const drawing = await addDrawing(project.id, {
      parent_id: plan?.id ?? null,
      cut: await cutOf(project.id, mode.drawn, cut, rule),
      style: { ...settings.new_style, scale },
      rule: rule?.key,
    });
    putDrawing(queryClient, project.id, drawing);
    pane.choose(drawing.id);
  } catch (error) {
    report(error);
    const now = line.now();
    if (now) line.set({ ...now, making: false });
  }
}

/** The cut that a line stands for, by what it is to become. */
async function cutOf(
  project: number,
  drawn: Drawn,
  cut: SectionCut,
  rule: DrawingRule | undefined,
): Promise<Cut> {
  if (drawn === "section") return cut;
  const ruled = seenBy(rule);
  const { line, look, extents, without, left_out, shown_set, hidden, glass } = cut;
  const [a, b] = line as [Place, Place];
  if (drawn === "wall section") {
    const found = await unwrap<SectionCut>(
      client.POST("/api/projects/{id}/wall-section", {
        params: { path: { id: project } },
        body: { line: [a, b], look: look ?? "left" },
      }),
    );
    return { ...found, ...ruled };
  }
  const shows = { extents, without, left_out, shown_set, hidden, glass };
  return {
    kind: "elevation",
    line: [a, b],
    look,
    depth: null,
    space: "",
    perspective: null,
    ...shows,
    ...ruled,
  } as Cut;
}

function LineFoot({ pane }: { pane: Pane }) {
  const mode = line.useHeld();
  if (!mode) return null;
  const { drawn, draft, typed } = mode;
  return (
    <>
      {`${WORDS[drawn]}${HINTS[draft.stage]}`}
      {typed && <span className="figures ml-2 rounded bg-base-300 px-1">{typed}</span>}
      <RuleChoice project={pane.project.id} kind={drawn} />
    </>
  );
}

function DraftLine({ pane, camera }: Over) {
  const { scale } = pane;
  const mode = line.useHeld();
  const { say } = useLengths();
  if (!mode || mode.draft.stage === "first") return null;
  const { draft, pointer } = mode;
  const end = draft.stage === "second" ? pointer : draft.b;
  if (!end) return null;
  const a = toScreen(camera, onPaper(draft.a, scale));
  const b = toScreen(camera, onPaper(end, scale));
  const cut = draftCut(draft, settingsOf(pane, mode.drawn));
  const words = draft.stage === "second" ? say(distance(draft.a, end)) : `deep ${say(draft.depth)}`;
  return (
    <g pointerEvents="none">
      {cut && <DepthBand camera={camera} scale={scale} cut={cut} />}
      <line
        x1={a.x}
        y1={a.y}
        x2={b.x}
        y2={b.y}
        stroke="var(--ink-cut)"
        strokeWidth={2}
        strokeDasharray="14 4 2 4"
      />
      <circle cx={a.x} cy={a.y} r={4} fill="var(--ink-cut)" />
      <circle cx={b.x} cy={b.y} r={4} fill="var(--ink-cut)" />
      <text x={b.x + 10} y={b.y - 10} fontSize={12} className="figures" fill="var(--ink-cut)">
        {words}
      </text>
    </g>
  );
}
