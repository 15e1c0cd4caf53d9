import { Brush, Eraser, EyeOff, LayoutGrid, Scissors } from "lucide-react";
import { type Options, useAnnotate } from "../state";
import type { Pick } from "../tools";
import type { Box, Doing, Kind } from "./kind";
import { HatchChoice } from "./linework";

type Touching = "hide" | "restyle" | "hatch";

/** Clicks and windows of a touch-up, with the looks that it gives. */
function touching(act: Touching, styleOf: (options: Options) => Record<string, unknown> = () => ({})) {
  return {
    touches: ({ touch, reach, options }: Doing, [pick]: Pick[], alt: boolean) => {
      const faces = alt || act === "hatch";
      if (pick) touch({ act, at: pick.at, reach, faces, style: styleOf(options) });
    },
    window: (doing: Doing, box: Box, whole: boolean) =>
      doing.touch({ act, box, whole, style: styleOf(doing.options) }),
  };
}

export const TOUCH_UPS: Kind[] = [
  {
    tool: "hide",
    group: "Touch up",
    glyph: EyeOff,
    name: "Hide linework",
    keys: "shift+h",
    next: ["Click a line, or drag a window over several: they are hidden. Alt-click hides a cut face."],
    ...touching("hide"),
  },
  {
    tool: "restyle",
    group: "Touch up",
    glyph: Brush,
    name: "Another pen for linework",
    keys: "shift+e",
    next: ["Click a line, or drag a window over several: they are drawn in this pen."],
    ...touching("restyle", ({ ink, width }) => ({ ink, width })),
    Choices: PenChoice,
  },
  {
    tool: "cut back",
    group: "Touch up",
    glyph: Scissors,
    name: "Cut a line back",
    keys: "shift+c",
    next: ["Click on a line where the part that goes begins.", "Click where it ends."],
    touches: ({ touch, wait, reach }, picks) => {
      const [from, to] = picks;
      if (!from || !to) wait(picks);
      else {
        wait([]);
        touch({ act: "cut back", at: from.at, to: to.at, reach });
      }
    },
  },
  {
    tool: "mask",
    group: "Touch up",
    glyph: Eraser,
    name: "Cover an area",
    keys: "shift+m",
    next: ["Click a corner of what is covered.", "Click its corners; Enter or a double-click closes it."],
    drawn: {
      points: () => ({ least: 3 }),
      finish: ({ touch, wait }, points) => {
        wait([]);
        touch({ act: "mask", ring: points });
      },
    },
  },
  {
    tool: "hatch",
    group: "Touch up",
    glyph: LayoutGrid,
    name: "Another hatch for a cut face or seen surface",
    keys: "shift+f",
    next: [
      "Click within a cut face or a surface that is seen, or drag a window over several cut faces: they get this hatch.",
    ],
    ...touching("hatch", ({ hatch }) => ({ hatch })),
    Choices: HatchChoice,
  },
];

function PenChoice() {
  const { options, setOptions } = useAnnotate();
  return (
    <>
      <input
        type="color"
        aria-label="Ink"
        className="size-6 shrink-0"
        value={options.ink}
        onChange={(event) => setOptions({ ink: event.target.value })}
      />
      <select
        aria-label="Width"
        className="select select-xs w-20 shrink-0"
        value={options.width}
        onChange={(event) => setOptions({ width: Number(event.target.value) })}
      >
        {[0.13, 0.18, 0.25, 0.35, 0.5, 0.7, 1].map((width) => (
          <option key={width} value={width}>
            {width} mm
          </option>
        ))}
      </select>
    </>
  );
}
