import { useState } from "react";
import type { Drawing } from "../../api/client";

type Props = { drawing: Drawing; onDone: (name: string | null) => void };

/** The name of a drawing while it is being written; null when it is left as it was. */
export function DrawingName({ drawing, onDone }: Props) {
  const [name, setName] = useState(drawing.name);
  return (
    <input
      // biome-ignore lint/a11y/noAutofocus: it stands where the name was that is being changed
      autoFocus
      aria-label="Name"
      className="input input-xs mx-1 h-5 min-w-0 flex-1 px-1"
      value={name}
      placeholder={drawing.title}
      maxLength={200}
      onChange={(event) => setName(event.target.value)}
      onBlur={() => onDone(name)}
      onKeyDown={(event) => {
        if (event.key === "Enter") onDone(name);
        if (event.key === "Escape") onDone(null);
      }}
    />
  );
}
