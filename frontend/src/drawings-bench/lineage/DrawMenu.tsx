import { ChevronDown, Scissors } from "lucide-react";
import { useState } from "react";
import { useCommand } from "../../shell/commands";
import { startBody } from "../bodies/body-tool";
import type { Drawn } from "../cutting/line-draft";
import { startLine } from "../cutting/line-tool";
import { clickRoom, clickThing, clickWall } from "./click-tools";

const KINDS: [Drawn, string, string][] = [
  ["section", "Building section", "c"],
  ["wall section", "Wall section: a line across a wall", "w"],
  ["elevation", "Elevation", "e"],
];

type Clicked = [what: typeof clickRoom | typeof clickWall | typeof clickThing, name: string, key: string];
const CLICKED: [Clicked, Clicked, Clicked] = [
  [clickRoom, "Elevations of a room", "r"],
  [clickWall, "Whole section of a wall", "t"],
  [clickThing, "Enlargement of a stair or room", "n"],
];

/** What can be drawn on a plan. */
export function DrawMenu({ busy }: { busy: boolean }) {
  const [open, setOpen] = useState(false);
  const start = (drawn: Drawn) => {
    setOpen(false);
    startLine(drawn);
  };
  const click = (what: Clicked[0]) => {
    setOpen(false);
    what.set({});
  };
  const body = () => {
    setOpen(false);
    startBody();
  };
  const group = "Drawing";
  useCommand({
    name: "Draw a wall section",
    group,
    keys: "w",
    enabled: !busy,
    run: () => start("wall section"),
  });
  useCommand({ name: "Draw an elevation", group, keys: "e", enabled: !busy, run: () => start("elevation") });
  const clicked = ([what, name, keys]: (typeof CLICKED)[number]) => ({
    name: `${name} that is clicked`,
    group,
    keys,
    enabled: !busy,
    run: () => click(what),
  });
  useCommand(clicked(CLICKED[0]));
  useCommand(clicked(CLICKED[1]));
  useCommand(clicked(CLICKED[2]));
  const entry = "btn btn-ghost btn-xs w-full justify-between font-normal";
  return (
    <div className="join relative">
      <button
        type="button"
        className={`btn join-item btn-xs ${busy ? "btn-primary" : "btn-ghost"}`}
        onClick={() => start("section")}
        title="Draw a cutting line (C)"
      >
        <Scissors size={13} /> Cut
      </button>
      <button
        type="button"
        className="btn btn-ghost join-item btn-xs px-0.5"
        aria-label="Other things to draw"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        <ChevronDown size={12} />
      </button>
      {open && (
        <div className="absolute top-7 right-0 z-20 w-64 rounded border border-base-300 bg-base-100 p-1.5 shadow-lg">
          {KINDS.map(([kind, name, key]) => (
            <button key={kind} type="button" className={entry} onClick={() => start(kind)}>
              {name} <kbd className="kbd kbd-xs">{key.toUpperCase()}</kbd>
            </button>
          ))}
          {CLICKED.map(([what, name, key]) => (
            <button key={key} type="button" className={entry} onClick={() => click(what)}>
              {name} <kbd className="kbd kbd-xs">{key.toUpperCase()}</kbd>
            </button>
          ))}
          <button type="button" className={entry} onClick={body}>
            A body that is in no file <kbd className="kbd kbd-xs">J</kbd>
          </button>
        </div>
      )}
    </div>
  );
}
