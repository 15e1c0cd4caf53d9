import { Copy } from "lucide-react";
import { useEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { toast } from "sonner";
import { type Place, useBench } from "../../desk/drawings-state";
import { type Camera, toScreen } from "../../drawing/camera";
import type { PaperPointer } from "../../drawing/DrawingCanvas";
import type { View } from "../../drawing/screen-form";
import { useLengths } from "../../fields/lengths";
import { useCommand } from "../../shell/commands";
import { SNAP_REACH } from "./CuttingLine";
import { distance, onModel, onPaper } from "./plan-geometry";
import { Snapper } from "./snaps";

/** Measuring is one tool for all panes. */
export function useMeasureCommand(enabled: boolean) {
  const { measure, setMeasure } = useBench();
  useCommand({
    name: "Measure distances, angles and areas",
    group: "Drawing",
    keys: "m",
    enabled,
    run: () => setMeasure(measure ? null : { drawing: 0, points: [] }),
  });
  useHotkeys("escape", () => setMeasure(null), { enabled: measure !== null });
  useHotkeys(
    "backspace",
    () => measure && setMeasure({ ...measure, points: measure.points.slice(0, -1) }),
    { enabled: measure !== null },
    [measure],
  );
}

/** Clicks of a pane while something is measured; points snap to what is drawn. */
export function useMeasure(drawing: number, view: View | null, scale: number) {
  const { measure, setMeasure, setSnap } = useBench();
  const snapper = new Snapper(view, undefined, []);
  const place = ({ paper, zoom, alt }: PaperPointer): Place => {
    const free = onModel(paper, scale);
    const snap = alt
      ? null
      : snapper.find(free, (SNAP_REACH / zoom) * (scale / 1000), measure?.points.at(-1));
    setSnap(snap);
    return snap?.at ?? free;
  };
  return {
    onClick: (pointer: PaperPointer) => {
      const points = measure?.drawing === drawing ? measure.points : [];
      setMeasure({ drawing, points: [...points, place(pointer)] });
    },
    onMove: (pointer: PaperPointer) => {
      if (!measure) return;
      const at = place(pointer);
      if (measure.drawing === drawing) setMeasure({ ...measure, pointer: at });
    },
  };
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

/** What is measured in a drawing, over it. */
export function MeasureLines({ drawing, camera, scale }: { drawing: number; camera: Camera; scale: number }) {
  const measure = useBench((s) => s.measure);
  if (measure?.drawing !== drawing) return null;
  const all = measure.pointer ? [...measure.points, measure.pointer] : measure.points;
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
export function MeasureWords({ drawing }: { drawing: number }) {
  const measure = useBench((s) => s.measure);
  const setSnap = useBench((s) => s.setSnap);
  const mine = measure?.drawing === drawing;
  const all = mine ? [...measure.points, ...(measure.pointer ? [measure.pointer] : [])] : [];
  const words = useWords(all);
  useEffect(() => () => setSnap(null), [setSnap]);
  if (!measure) return null;
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
