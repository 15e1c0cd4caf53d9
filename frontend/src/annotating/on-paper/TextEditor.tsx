import { useEffect, useRef, useState } from "react";
import { addAnnotation, editAnnotation, useAnnotations } from "../../api/annotations";
import type { Drawing, Standard } from "../../api/client";
import type { Camera } from "../../drawing/camera";
import { useAnnotate } from "../state";
import { spotOf } from "../steps";
import { onScreen } from "../use-annotating";

type Props = {
  project: number;
  drawing: Drawing;
  camera: Camera;
  scale: number;
  standard: Standard | undefined;
};
const REACH = 9; // pixels
const OFFERED = 6; // notes of the library

/** Words are typed where they stand: Enter keeps them, Shift Enter starts a line, Esc leaves them as they were. */
export function TextEditor({ project, drawing, camera, scale, standard }: Props) {
  const { editing, setEditing } = useAnnotate();
  const { data: annotations = [] } = useAnnotations(project, drawing);
  const [text, setText] = useState("");
  const field = useRef<HTMLTextAreaElement>(null);
  const mine = editing?.drawing === drawing.id ? editing : null;
  useEffect(() => {
    if (!mine) return;
    setText(mine.text);
    field.current?.focus();
    field.current?.select();
  }, [mine]);
  if (!mine) return null;
  const at = onScreen(camera, mine.at, scale);
  const library = standard?.document.annotations?.library ?? [];
  const typed = text.trim().toLowerCase();
  const offered =
    typed.length > 1
      ? library.filter((l) => l.toLowerCase().startsWith(typed) && l !== text).slice(0, OFFERED)
      : [];
  const keep = async (words: string) => {
    setEditing(null);
    if (words.trim() === "" || words === mine.text) return;
    if (mine.id === null) {
      const [tip] = mine.tips;
      if (!tip) return;
      await addAnnotation(project, drawing.id, [spotOf(tip, (REACH / camera.zoom) * scale)], {
        kind: "note",
        text: words,
        points: [mine.at],
        align: mine.at[0] >= tip.at[0] ? "left" : "right",
      });
      return;
    }
    const one = annotations.find((a) => a.id === mine.id);
    if (one) await editAnnotation(project, one, { change: { text: words } });
  };
  return (
    <div
      className="absolute z-20 w-56"
      style={{ left: Math.max(4, at.x), top: Math.max(4, at.y - 14) }}
      onPointerDown={(event) => event.stopPropagation()}
    >
      <textarea
        ref={field}
        aria-label="Words of the note"
        className="textarea textarea-xs w-full leading-tight shadow"
        rows={Math.min(8, Math.max(2, text.split("\n").length + 1))}
        maxLength={4000}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => keep(text)}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Escape") setEditing(null);
          if (event.key === "Enter" && !event.shiftKey) {
            event.preventDefault();
            void keep(text);
          }
          if (event.key === "Tab" && offered[0]) {
            event.preventDefault();
            setText(offered[0]);
          }
        }}
      />
      {offered.length > 0 && (
        <ul aria-label="Note library" className="rounded border border-base-300 bg-base-100 text-xs shadow">
          {offered.map((line, k) => (
            <li key={line}>
              <button
                type="button"
                className="w-full px-2 py-0.5 text-left hover:bg-base-200"
                onPointerDown={(event) => {
                  event.preventDefault();
                  void keep(line);
                }}
              >
                {line} {k === 0 && <kbd className="kbd kbd-xs">Tab</kbd>}
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
