import {
  ArrowDownToLine,
  Brush,
  CircleDot,
  Eraser,
  EyeOff,
  Image as ImageGlyph,
  Layers,
  LayoutGrid,
  MessageSquareText,
  MoveDiagonal,
  PencilRuler,
  Pentagon,
  Ruler,
  Scissors,
  Shapes,
  Spline,
  Tag,
  TrendingUp,
  Triangle,
} from "lucide-react";
import { useCommand } from "../shell/commands";
import { startTool, useAnnotate } from "./state";
import { annotate, type Tool } from "./tools";

type Entry = [tool: Tool, glyph: typeof Ruler, name: string, keys: string];
const NOTES: Entry[] = [
  ["note", MessageSquareText, "Note with a leader", "shift+n"],
  ["layer note", Layers, "Layer note", "shift+l"],
  ["label", Tag, "Label", "shift+b"],
  ["dimension", Ruler, "Dimension chain", "shift+d"],
  ["running", MoveDiagonal, "Running dimensions", "shift+r"],
  ["spot level", ArrowDownToLine, "Spot level", "shift+v"],
  ["angle", Triangle, "Angle", "shift+g"],
  ["radius", CircleDot, "Radius", "shift+u"],
  ["slope", TrendingUp, "Slope", "shift+s"],
  ["line", Spline, "Line", "shift+i"],
  ["area", Pentagon, "Area with a hatch", "shift+a"],
  ["symbol", Shapes, "Symbol", "shift+y"],
  ["picture", ImageGlyph, "Picture", "shift+p"],
];
const TOUCHES: Entry[] = [
  ["hide", EyeOff, "Hide linework", "shift+h"],
  ["restyle", Brush, "Another pen for linework", "shift+e"],
  ["cut back", Scissors, "Cut a line back", "shift+c"],
  ["mask", Eraser, "Cover an area", "shift+m"],
  ["hatch", LayoutGrid, "Another hatch for a cut face", "shift+f"],
];

/** The tools at the edge of a pane; open or not, each has its key. */
export function AnnotateTools({ drawing }: { drawing: number }) {
  const open = useAnnotate((s) => s.open);
  const tool = annotate.use()?.tool;
  if (open !== drawing) return null;
  return (
    <div
      role="toolbar"
      aria-label="Annotate"
      aria-orientation="vertical"
      className="flex h-full shrink-0 flex-col flex-wrap content-start gap-0.5 border-r border-base-300 bg-base-200 p-0.5"
    >
      {[...NOTES, ...TOUCHES].map(([key, Glyph, name, keys]) => (
        <button
          key={key}
          type="button"
          aria-label={name}
          aria-pressed={tool === key}
          title={`${name} (${keys.replace("shift+", "Shift ").toUpperCase().replace("SHIFT", "Shift")})`}
          className={`btn btn-xs btn-square ${tool === key ? "btn-secondary" : "btn-ghost"} ${key === "hide" ? "mt-1.5" : ""}`}
          style={TOUCHES.some(([t]) => t === key) && tool !== key ? { color: "var(--ink-touch)" } : undefined}
          onClick={(event) => {
            event.currentTarget.blur();
            startTool(tool === key ? null : key);
          }}
        >
          <Glyph size={14} />
        </button>
      ))}
    </div>
  );
}

/** Opens and closes the tools of a pane. */
export function AnnotateToggle({ drawing }: { drawing: number }) {
  const { open, setOpen } = useAnnotate();
  const on = open === drawing;
  return (
    <button
      type="button"
      className={`btn btn-xs ${on ? "btn-active" : "btn-ghost"}`}
      aria-pressed={on}
      title="Notes, dimensions, lines, touch-ups"
      onClick={() => {
        setOpen(on ? null : drawing);
        startTool(null);
      }}
    >
      <PencilRuler size={13} /> Annotate
    </button>
  );
}

/** The commands of all tools. */
export function AnnotateCommands({ enabled }: { enabled: boolean }) {
  useCommand({
    name: "Show what touch-ups hide",
    group: "Touch up",
    keys: "shift+w",
    enabled,
    run: () => {
      const { ghosts, setGhosts } = useAnnotate.getState();
      setGhosts(!ghosts);
    },
  });
  return [...NOTES, ...TOUCHES].map((entry) => (
    <ToolCommand key={entry[0]} entry={entry} enabled={enabled} />
  ));
}

function ToolCommand({ entry: [tool, , name, keys], enabled }: { entry: Entry; enabled: boolean }) {
  const group = TOUCHES.some(([t]) => t === tool) ? "Touch up" : "Annotate";
  useCommand({ name, group, keys, enabled, run: () => startTool(tool) });
  return null;
}
