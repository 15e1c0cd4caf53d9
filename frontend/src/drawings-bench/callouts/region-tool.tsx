import { toast } from "sonner";
import { callOut, leadTo } from "../../api/callouts";
import type { CalloutForm, DrawingKind, Region } from "../../api/client";
import { putDrawing, queryClient, report } from "../../api/queries";
import { goesOnIn, held, type Place } from "../../desk/mode";
import { ruleNow } from "../../desk/rules";
import { closesRing, distance, onModel, rounded } from "../cutting/plan-geometry";
import { RuleChoice } from "../modes/RuleChoice";
import { type Over, type Pane, tool } from "../modes/tool";
import { Outline } from "./RegionGrips";
import { outlineOf } from "./region-geometry";

/** What a region that is being drawn becomes: a detail or the like, a blank detail, or a way to another drawing. */
type CallsTo = CalloutForm | "blank" | number;
/** A region being drawn, metres in its drawing. */
type Calling = {
  kind: "region";
  shape: Region["shape"];
  to: CallsTo;
  drawing: number | null;
  points: Place[];
  pointer: Place | null;
};
const region = held<Calling>("region");

export const startRegion = (shape: Region["shape"], to: CallsTo) =>
  region.set({ shape, to, drawing: null, points: [], pointer: null });

const LEAST = 0.02; // metres
const SHAPES = ["rectangle", "circle", "polygon"] as const;
const FORMS: [CallsTo, string][] = [
  ["detail", "a detail"],
  ["wall", "a wall section"],
  ["plan", "an enlarged plan"],
  ["blank", "a blank detail"],
];
/** What kind of drawing such a callout is. */
const KINDS: Record<CalloutForm, DrawingKind> = {
  detail: "detail",
  wall: "wall section",
  plan: "enlarged plan",
};
const NEXT = {
  rectangle: ["Click a corner.", "Click the opposite corner."],
  circle: ["Click its middle.", "Click how far it reaches."],
  polygon: ["Click its corners.", "Click on; Enter closes it."],
} as const;

/** A region of a drawing, which is then called out. */
export const regionTool = tool({
  held: region,
  works: ({ drawing }, mode) => goesOnIn(mode, drawing),
  click: ({ paper, zoom }, pane, mode) => {
    const at = rounded(onModel(paper, pane.scale));
    const [first] = mode.points;
    const drawing = pane.drawing?.id ?? null;
    if (mode.shape === "polygon") {
      if (closesRing(mode.points, at, zoom, pane.scale)) close(pane, mode);
      else region.set({ ...mode, drawing, points: [...mode.points, at] });
    } else if (!first) region.set({ ...mode, drawing, points: [at] });
    else if (distance(first, at) < LEAST) toast("The region has no size yet; click further away.");
    else void finish(pane, mode, [first, at]);
  },
  move: ({ paper }, { scale }, mode) => {
    if (mode.points.length > 0) region.set({ ...mode, pointer: rounded(onModel(paper, scale)) });
  },
  key: ({ key }, pane, mode) => {
    if (key !== "Enter" || mode.shape !== "polygon" || mode.points.length === 0) return false;
    close(pane, mode);
    return true;
  },
  back: () => null,
  plain: true,
  Foot: RegionFoot,
  Over: RegionDraft,
});

function close(pane: Pane, mode: Calling) {
  if (mode.points.length > 2) void finish(pane, mode, mode.points);
  else toast("A region needs three corners or more; nothing was made.");
}

async function finish({ drawing, project, choose }: Pane, { shape, to }: Calling, points: Place[]) {
  if (!drawing) return;
  region.set(null);
  const drawn: Region = { shape, points, u: null, v: null };
  try {
    if (typeof to === "number" || to === "blank") {
      const made = await leadTo(drawing.id, drawn, to, sizeOf(points));
      if (to === "blank") choose(made.target_id);
      return;
    }
    const rule = ruleNow(project.id, KINDS[to])?.key ?? "";
    const made = await callOut(drawing.id, drawn, to, rule);
    putDrawing(queryClient, project.id, made);
    choose(made.id);
  } catch (error) {
    report(error);
  }
}

function sizeOf(points: Place[]): [number, number] {
  const span = (k: 0 | 1) => Math.max(...points.map((p) => p[k])) - Math.min(...points.map((p) => p[k]));
  return [Math.max(0.1, span(0)), Math.max(0.1, span(1))];
}

function RegionDraft({ pane: { drawing, scale }, camera }: Over) {
  const mode = region.useHeld();
  const ring = mode && mode.drawing === drawing?.id ? ringOf(mode) : null;
  return ring && <Outline camera={camera} scale={scale} ring={ring} open={mode?.shape === "polygon"} />;
}

function ringOf({ shape, points, pointer }: Calling): Place[] | null {
  const all = pointer ? [...points, pointer] : points;
  if (shape === "polygon") return all;
  return all.length > 1 ? outlineOf({ shape, points: [all[0] as Place, all.at(-1) as Place] }) : null;
}

/** While a region is drawn: its shape, what it becomes, and the next step. */
function RegionFoot({ pane }: { pane: Pane }) {
  const mode = region.useHeld();
  if (!mode) return null;
  const drawings = pane.drawings.filter((d) => d.id !== pane.drawing?.id);
  return (
    <span className="flex items-center gap-1.5">
      <span className="min-w-0 flex-1 truncate">
        {NEXT[mode.shape][mode.points.length > 0 ? 1 : 0]} Esc leaves.
      </span>
      <select
        aria-label="Shape of the region"
        className="select select-xs w-24 shrink-0"
        value={mode.shape}
        onChange={(event) =>
          region.set({ ...mode, shape: event.target.value as (typeof SHAPES)[number], points: [] })
        }
      >
        {SHAPES.map((shape) => (
          <option key={shape}>{shape}</option>
        ))}
      </select>
      <select
        aria-label="What it becomes"
        className="select select-xs w-32 shrink-0"
        value={String(mode.to)}
        onChange={(event) => {
          const form = FORMS.find(([key]) => key === event.target.value);
          region.set({ ...mode, to: form ? form[0] : Number(event.target.value) });
        }}
      >
        {FORMS.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
        <optgroup label="A drawing that is there">
          {drawings.map((d) => (
            <option key={d.id} value={d.id}>
              {d.title}
            </option>
          ))}
        </optgroup>
      </select>
      {typeof mode.to === "string" && mode.to !== "blank" && (
        <RuleChoice project={pane.project.id} kind={KINDS[mode.to]} />
      )}
    </span>
  );
}
