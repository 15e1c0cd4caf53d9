import { Copy } from "lucide-react";
import { toast } from "sonner";
import { held, type Place, useMode } from "../../desk/mode";
import { toScreen } from "../../drawing/camera";
import type { PaperPointer } from "../../drawing/canvas/DrawingCanvas";
import { useLengths } from "../../fields/lengths";
import { useCommand } from "../../shell/commands";
import { type Over, type Pane, tool } from "../modes/tool";
import { SNAP_REACH } from "./CuttingLine";
import { distance, onModel, onPaper } from "./plan-geometry";
import { drawnIn } from "./snaps";

/** Points that are measured between, metres in the drawing that was clicked last. */
type Measure = { kind: "measure"; drawing: number | null; points: Place[]; pointer: Place | null };
const measure = held<Measure>("measure", true);

export const useMeasureCommand = (enabled: boolean) =>
  useCommand({
    name: "Measure distances, angles and areas",
    group: "Drawing",
    keys: "m",
    enabled,
    run: () => measure.set(measure.now() ? null : { drawing: null, points: [], pointer: null }),
  });

/** Distances, angles and areas between points that are clicked, which snap to what is drawn. */
export const measureTool = tool({
  held: measure,
  works: (pane) => pane.drawing !== undefined,
  click: (at, pane, mode) => {
    const drawing = pane.drawing?.id ?? null;
    const points = mode.drawing === drawing ? mode.points : [];
    measure.set({ drawing, points: [...points, placed(at, pane, mode)], pointer: null });
  },
  move: (at, pane, mode) => {
    const pointer = placed(at, pane, mode);
    if (mode.drawing === pane.drawing?.id) measure.set({ ...mode, pointer });
  },
  key: ({ key }, pane, mode) => {
    if (key !== "Backspace" || mode.drawing !== pane.drawing?.id) return false;
    measure.set({ ...mode, points: mode.points.slice(0, -1) });
    return true;
  },
  back: () => null,
  Foot: MeasureWords,
  Over: MeasureLines,
});

function placed({ paper, zoom, alt }: PaperPointer, { scale, view }: Pane, { points }: Measure): Place {
  const free = onModel(paper, scale);
  const snap = alt ? null : drawnIn(view).find(free, (SNAP_REACH / zoom) * (scale / 1000), points.at(-1));
  useMode.getState().setSnap(snap);
  return snap?.at ?? free;
}

/** Area of a ring by the shoelace formula, square metres. */
const areaOf = (ring: Place[]) =>
  Math.abs(
    ring.reduce((sum, [x1, y1], k) => {
      const [x0, y0] = ring.at(k - 1) as Place;
      return sum + x0 * y1 - x1 * y0;
    }, 0),
  ) / 2;

const degrees = (a: Place, b: Place) => {
  const angle = (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI;
  return `${((angle + 360) % 360).toFixed(1)}°`;
};

function useWords(points: Place[]): string {
  const { lengths, say } = useLengths();
  const [a, b] = points.slice(-2) as [Place?, Place?];
  if (!a || !b) return "";
  const words = [`${say(distance(a, b))} at ${degrees(a, b)}`];
  if (points.length > 2) {
    const area = areaOf(points);
    const round = points.reduce((sum, p, k) => sum + distance(points.at(k - 1) as Place, p), 0);
    words.push(
      lengths === "ft-in" ? `area ${(area / 0.3048 ** 2).toFixed(1)} sq ft` : `area ${area.toFixed(2)} m²`,
      `round ${say(round)}`,
    );
  }
  return words.join(", ");
}

const pointsOf = ({ points, pointer }: Measure) => (pointer ? [...points, pointer] : points);

/** What is measured in a drawing, over it. */
function MeasureLines({ pane: { drawing, scale }, camera }: Over) {
  const mode = measure.useHeld();
  if (!mode || mode.drawing !== drawing?.id) return null;
  const all = pointsOf(mode);
  const spots = all.map((p) => toScreen(camera, onPaper(p, scale)));
  return (
    <g pointerEvents="none" stroke="var(--ink-cut)">
      <polygon
        points={spots.map((p) => `${p.x},${p.y}`).join(" ")}
        fill={spots.length > 2 ? "var(--ink-cut)" : "none"}
        fillOpacity={0.07}
        strokeWidth={1.4}
      />
      {spots.map((p, k) => {
        const key = `point ${k}`;
        return <circle key={key} cx={p.x} cy={p.y} r={3} fill="var(--film)" strokeWidth={1.4} />;
      })}
    </g>
  );
}

/** The measures in words, at the foot of the pane. */
function MeasureWords({ pane }: { pane: Pane }) {
  const mode = measure.useHeld();
  const words = useWords(mode && mode.drawing === pane.drawing?.id ? pointsOf(mode) : []);
  if (!words) return <>Click points to measure between; Backspace takes the last one back, Esc leaves.</>;
  const copy = async () => {
    await navigator.clipboard.writeText(words);
    toast("Copied", { id: "copied" });
  };
  return (
    <span className="figures flex items-center gap-1" role="status">
      {words}
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square"
        aria-label="Copy as text"
        onClick={copy}
      >
        <Copy size={12} />
      </button>
    </span>
  );
}
