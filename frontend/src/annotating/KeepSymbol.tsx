import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { type Annotation, client, type Standard, unwrap } from "../api/client";
import { keys, report } from "../api/queries";

type Props = { project: number; lines: Annotation[]; standard: Standard | undefined };
const round = (x: number) => Math.round(x * 1000) / 1000;

/** The lines about the middle of all of them, as the paths of a symbol. */
function pathsOf(lines: Annotation[]) {
  const runs = lines.flatMap((l) =>
    l.paths.flatMap(({ runs, width, closed }) => runs.map((run) => ({ run, width, closed }))),
  );
  const all = runs.flatMap(({ run }) => run);
  const middle = ([0, 1] as const).map((k) => {
    const side = all.map((p) => p[k]);
    return (Math.min(...side) + Math.max(...side)) / 2;
  }) as [number, number];
  return runs.map(({ run, width, closed }) => ({
    points: run.map(([x, y]): [number, number] => [round(x - middle[0]), round(y - middle[1])]),
    closed,
    filled: false,
    width,
  }));
}

/** Makes a symbol of the drawing's standard of drawn lines. */
export function KeepSymbol({ project, lines, standard }: Props) {
  const [name, setName] = useState("");
  const cache = useQueryClient();
  const rule = standard?.document.annotations;
  if (!standard || !rule || lines.some((l) => l.document.kind !== "line")) return null;
  const { id } = standard;
  if (id === null)
    return (
      <p className="text-xs opacity-85">
        Lines become a symbol in a drawing standard of your own; copy this one.
      </p>
    );
  const keep = async () => {
    const form = { paths: pathsOf(lines), text_at: null, text: "", to_north: false };
    const symbols = { ...rule.symbols, [name.trim()]: form };
    const document = { ...standard.document, annotations: { ...rule, symbols } };
    try {
      await unwrap(
        client.PATCH("/api/standards/{id}", {
          params: { path: { id } },
          body: { version: standard.version, document },
        }),
      );
      toast.success(`“${name.trim()}” is a symbol of ${standard.name} now.`);
      setName("");
    } catch (error) {
      report(error);
    }
    cache.invalidateQueries({ queryKey: keys.standards(project) });
  };
  return (
    <div className="flex gap-1">
      <input
        aria-label="Name of the symbol"
        className="input input-xs min-w-0 flex-1"
        placeholder="Keep as a symbol …"
        maxLength={60}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <button type="button" className="btn btn-xs" disabled={!name.trim()} onClick={keep}>
        Keep
      </button>
    </div>
  );
}
