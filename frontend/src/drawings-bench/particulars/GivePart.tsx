import { useState } from "react";
import type { Drawing, SettingsGiven } from "../../api/client";
import { client, unwrap } from "../../api/client";
import { putDrawing, queryClient, report, useDrawings } from "../../api/queries";
import { Check } from "../../fields/Choice";
import { Part } from "../../fields/Part";

type Given = SettingsGiven["parts"][number];
const PARTS: [Given, string][] = [
  ["scale", "Scale"],
  ["graphics", "Graphics"],
  ["shows", "What shows"],
  ["depth", "Depth"],
  ["base and top", "Base and top"],
];

/** Settings of this drawing, given to others: which settings, and to whom. */
export function GivePart({ project, drawing }: { project: number; drawing: Drawing }) {
  const { data: drawings = [] } = useDrawings(project);
  const [parts, setParts] = useState<Given[]>(["graphics", "shows"]);
  const [open, setOpen] = useState(false);
  const [to, setTo] = useState<number[]>([]);
  const others = drawings.filter((d) => d.id !== drawing.id);
  const alike = others.filter((d) => d.kind === drawing.kind).map((d) => d.id);
  const turn = <T,>(list: T[], item: T) =>
    list.includes(item) ? list.filter((x) => x !== item) : [...list, item];
  const give = async () => {
    try {
      const given = await unwrap<Drawing[]>(
        client.POST("/api/drawings/{id}/settings", {
          params: { path: { id: drawing.id } },
          body: { to, parts },
        }),
      );
      for (const one of given) putDrawing(queryClient, project, one);
      setTo([]);
    } catch (error) {
      report(error);
    }
  };
  return (
    <Part title="Give settings">
      <button
        type="button"
        className="link self-start text-xs"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        To other drawings
      </button>
      {open && (
        <div className="mt-1 flex flex-col gap-1">
          {PARTS.map(([part, name]) => (
            <Check
              key={part}
              label={name}
              checked={parts.includes(part)}
              onChange={() => setParts(turn(parts, part))}
            />
          ))}
          <button type="button" className="link self-start text-xs" onClick={() => setTo(alike)}>
            Choose every {drawing.kind}
          </button>
          <ul aria-label="Given to" className="max-h-40 overflow-y-auto border-y border-base-300 py-1">
            {others.map((d) => (
              <li key={d.id}>
                <Check label={d.title} checked={to.includes(d.id)} onChange={() => setTo(turn(to, d.id))} />
              </li>
            ))}
          </ul>
          <button
            type="button"
            className="btn btn-xs"
            disabled={to.length === 0 || parts.length === 0}
            onClick={give}
          >
            Give to {to.length} {to.length === 1 ? "drawing" : "drawings"}
          </button>
        </div>
      )}
    </Part>
  );
}
