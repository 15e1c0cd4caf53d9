import { PencilRuler } from "lucide-react";
import { keysText, useCommand } from "../shell/commands";
import type { Kind } from "./kinds/kind";
import { KINDS } from "./kinds/kinds";
import { startTool, useAnnotate } from "./state";
import { annotate } from "./tools";

/** The tools at the edge of a pane; open or not, each has its key. */
export function AnnotateTools({ drawing }: { drawing: number }) {
  const open = useAnnotate((s) => s.open);
  const tool = annotate.useHeld()?.tool;
  if (open !== drawing) return null;
  return (
    <div
      role="toolbar"
      aria-label="Annotate"
      aria-orientation="vertical"
      className="flex h-full shrink-0 flex-col flex-wrap content-start gap-0.5 border-r border-base-300 bg-base-200 p-0.5"
    >
      {KINDS.map(({ tool: key, group, glyph: Glyph, name, keys }, k) => (
        <button
          key={key}
          type="button"
          aria-label={name}
          aria-pressed={tool === key}
          title={`${name} (${keysText(keys)})`}
          className={`btn btn-xs btn-square ${tool === key ? "btn-secondary" : "btn-ghost"} ${group !== KINDS[k - 1]?.group && k > 0 ? "mt-1.5" : ""}`}
          style={group === "Touch up" && tool !== key ? { color: "var(--ink-touch)" } : undefined}
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
  return KINDS.map((kind) => <ToolCommand key={kind.tool} kind={kind} enabled={enabled} />);
}

function ToolCommand({ kind: { tool, name, group, keys }, enabled }: { kind: Kind; enabled: boolean }) {
  useCommand({ name, group, keys, enabled, run: () => startTool(tool) });
  return null;
}
