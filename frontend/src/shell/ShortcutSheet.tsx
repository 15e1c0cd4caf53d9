import { useState } from "react";
import { keysText, useCommand, useCommands } from "./commands";

/** What hands can do beside commands: the same everywhere. */
const HABITS: [string, string][] = [
  ["Zoom at the pointer", "wheel, or two fingers"],
  ["Move what is in view", "middle button, or Space held"],
  ["Draw straight", "Shift held"],
  ["Do not snap", "Alt held"],
  ["Turn the look direction round while drawing", "Tab"],
  ["One step back, leave", "Esc"],
  ["Finish, take a typed length", "Enter"],
  ["Nudge a grip; ten times as far", "arrows; Shift arrows"],
  ["Show in the other pane", "Alt-click"],
  ["Rename where the name stands", "double-click, F2"],
];

/** A sheet of all shortcuts that work at the moment. */
export function ShortcutSheet() {
  const [open, setOpen] = useState(false);
  const commands = useCommands((s) => s.commands);
  useCommand({ name: "Sheet of shortcuts", group: "Help", keys: "?", run: () => setOpen(!open) });
  useCommand({
    name: "Close the sheet of shortcuts",
    group: "Help",
    keys: "escape",
    enabled: open,
    run: () => setOpen(false),
  });
  if (!open) return null;
  const groups = [...new Set(commands.map((c) => c.group))];
  return (
    <div
      role="dialog"
      aria-label="Shortcuts"
      className="fixed inset-x-0 top-16 z-50 mx-auto max-h-[80vh] w-[56rem] max-w-[94vw] overflow-y-auto rounded border border-base-300 bg-base-100 p-4 shadow-xl"
    >
      <div className="flex items-center">
        <h2 className="flex-1 text-base font-semibold">Shortcuts</h2>
        <button type="button" className="btn btn-ghost btn-xs" onClick={() => setOpen(false)}>
          Close
        </button>
      </div>
      <div className="mt-2 columns-2 gap-8 text-sm">
        {groups.map((group) => (
          <List
            key={group}
            title={group}
            rows={commands
              .filter((c) => c.group === group && c.keys)
              .map((c) => [c.name, keysText(c.keys ?? "")])}
          />
        ))}
        <List title="Hands" rows={HABITS} />
      </div>
    </div>
  );
}

function List({ title, rows }: { title: string; rows: [string, string][] }) {
  if (rows.length === 0) return null;
  return (
    <section className="mb-3 break-inside-avoid">
      <h3 className="text-[11px] font-semibold tracking-wide uppercase opacity-85">{title}</h3>
      <dl>
        {rows.map(([name, keys]) => (
          <div key={name} className="flex items-baseline justify-between gap-3 py-0.5">
            <dt>{name}</dt>
            <dd className="figures shrink-0 text-xs opacity-85">{keys}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
