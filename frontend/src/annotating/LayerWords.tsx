import type { Annotation } from "../api/client";

type Wording = { layer: number; text: string; instead_of: string };

/** The words of a layer note, layer by layer: what the model says, or what was typed instead. */
export function LayerWords({ one, onSave }: { one: Annotation; onSave: (wording: Wording[]) => unknown }) {
  const d = one.document;
  if (d.kind !== "layer note") return null;
  const lines = one.texts.filter((t) => t.role === "layer note");
  // the order follows the side; layers that a leader meets are numbered one way or the other
  const up = one.layers ?? [];
  return (
    <div className="flex flex-col gap-1">
      {lines.map((line, k) => {
        const layer = up[k]?.layer ?? k;
        const own = d.wording.find((w) => w.layer === layer);
        const said = up[k]?.said ?? line.text;
        return (
          <textarea
            key={`${layer} ${line.text}`}
            aria-label={`Layer ${layer + 1}`}
            className={`textarea textarea-xs w-full leading-tight ${own ? "border-warning" : ""}`}
            rows={1}
            defaultValue={line.text}
            title={own ? `The model says: ${said}. Empty it to say that again.` : "As the model says"}
            onBlur={(event) => {
              const text = event.target.value.trim();
              if (text === line.text) return;
              const others = d.wording.filter((w) => w.layer !== layer);
              onSave(text === "" || text === said ? others : [...others, { layer, text, instead_of: said }]);
            }}
          />
        );
      })}
    </div>
  );
}
