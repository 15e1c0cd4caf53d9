import { useEffect, useState } from "react";

type Props = {
  label: string;
  value: string;
  onEnter: (text: string) => void;
  mayBeEmpty?: boolean;
  figures?: boolean;
  placeholder?: string;
};

/** A short text, entered with Enter or by leaving the field. */
export function TextField({ label, value, onEnter, mayBeEmpty, figures, placeholder }: Props) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const enter = () => {
    const trimmed = text.trim();
    if (trimmed === value) return;
    if (trimmed === "" && !mayBeEmpty) setText(value);
    else onEnter(trimmed);
  };
  return (
    <label className="flex min-w-0 flex-1 items-center gap-2">
      <span className="w-16 shrink-0 opacity-80">{label}</span>
      <input
        className={`input input-xs w-full ${figures ? "figures" : ""}`}
        aria-label={label}
        placeholder={placeholder}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={enter}
        onKeyDown={(event) => {
          if (event.key === "Enter") enter();
          if (event.key === "Escape") setText(value);
        }}
      />
    </label>
  );
}
