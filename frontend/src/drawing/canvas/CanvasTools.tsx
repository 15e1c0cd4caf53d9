import { ALargeSmall, Maximize } from "lucide-react";
import { create } from "zustand";
import { persist } from "zustand/middleware";
import { useLengths } from "../../fields/lengths";
import type { Camera } from "../camera";
import type { View } from "../screen-form";

/** Whether lettering is shown at a size that can be read, whatever it is on paper; kept in the browser. */
export const useLegible = create<{ legible: boolean; turn: () => void }>()(
  persist((set) => ({ legible: false, turn: () => set((old) => ({ legible: !old.legible })) }), {
    name: "edge-slice lettering",
  }),
);

const TRUE_SIZE = 96 / 25.4; // CSS pixels in a millimetre
const LONGEST = 110; // pixels; of the scale bar
const FOOT = 0.3048;

type Props = {
  view: View;
  camera: Camera;
  /** Whether it shows one drawing, at a scale of its own. */
  scaled: boolean;
  onFit: () => void;
  onZoom: (zoom: number) => void;
};

/** What stands in the corners of a canvas: the scale bar, and ways to look. */
export function CanvasTools({ view, camera, scaled, onFit, onZoom }: Props) {
  const { legible, turn } = useLegible();
  const button = "btn btn-xs btn-square bg-base-200/80";
  return (
    <>
      {scaled && <ScaleBar view={view} camera={camera} />}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: only keeps clicks on the buttons from the drawing */}
      <div
        className="absolute right-2 bottom-2 flex gap-1"
        onClick={(event) => event.stopPropagation()}
        onKeyDown={(event) => event.stopPropagation()}
        onPointerDown={(event) => event.stopPropagation()}
      >
        <button
          type="button"
          className={`${button} ${legible ? "btn-active" : ""}`}
          aria-pressed={legible}
          aria-label="Legible lettering"
          title="Lettering at a legible size on screen; on paper it keeps its own"
          onClick={turn}
        >
          <ALargeSmall size={14} />
        </button>
        <button
          type="button"
          className={`${button} figures text-[10px]`}
          aria-label="1:1, as large as on paper"
          title="As large as on paper"
          onClick={() => onZoom(TRUE_SIZE)}
        >
          1:1
        </button>
        <button
          type="button"
          className={button}
          title="Show the whole drawing"
          aria-label="Show the whole drawing"
          onClick={onFit}
        >
          <Maximize size={13} />
        </button>
      </div>
    </>
  );
}

/** A bar of a round length in the unit of the project. */
function ScaleBar({ view, camera }: { view: View; camera: Camera }) {
  const { lengths } = useLengths();
  const unit = lengths === "ft-in" ? FOOT : 1;
  const perUnit = (camera.zoom * unit * 1000) / view.scale; // pixels
  const most = LONGEST / perUnit;
  const power = 10 ** Math.floor(Math.log10(most));
  const size = [5, 2, 1].map((k) => k * power).find((length) => length <= most) ?? power;
  const wide = size * perUnit;
  const words =
    lengths === "ft-in"
      ? `${Number(size.toPrecision(3))} ft`
      : size >= 1
        ? `${size} m`
        : `${Math.round(size * 1000)} mm`;
  return (
    <svg
      className="pointer-events-none absolute bottom-2 left-2"
      width={wide + 60}
      height={16}
      role="img"
      aria-label={`A bar of ${words}`}
    >
      <title>{words}</title>
      <path d={`M1 6v8h${wide}v-8M${wide / 2 + 1} 14v-5`} fill="none" stroke="#2a3230" strokeWidth={1.2} />
      <text x={wide + 6} y={14} fontSize={11} fill="#2a3230" className="figures">
        {words}
      </text>
    </svg>
  );
}
