import { useState } from "react";
import { Choice } from "../../fields/Choice";
import type { SettingsProps } from "./kind";

/** Heights of text by their role, and how lists call them. */
export const HEIGHTS = [
  ["small", "small"],
  ["label", "usual"],
  ["heading", "heading"],
  ["title", "title"],
] as const;

type Props = { text: string; said: string; onSave: (text: string, said: string) => unknown };

/** The words of an annotation; `said` is what stands there where there are none. */
export function WordsField({ text, said, onSave }: Props) {
  const [words, setWords] = useState(text);
  return (
    <textarea
      aria-label="Words"
      className="textarea textarea-xs w-full leading-tight"
      rows={3}
      maxLength={4000}
      value={words}
      placeholder={said || "no words"}
      onChange={(event) => setWords(event.target.value)}
      onBlur={() => words !== text && onSave(words, said)}
    />
  );
}

/** How high the words of an annotation are, where it has any. */
export function TextHeight({ one: { document: d }, save }: Pick<SettingsProps, "one" | "save">) {
  if (!("height" in d)) return null;
  return <Choice label="Text" value={d.height} options={HEIGHTS} onChange={(height) => save({ height })} />;
}
