import { useEffect, useRef, useState } from "react";

type Props = {
  label: string;
  value: string;
  onEnter: (text: string) => void;
  mayBeEmpty?: boolean;
  figures?: boolean;
  placeholder?: string;
  title?: string;
  most?: number;
  /** Of its name, as other fields of its panel have it. */
  labelWidth?: "w-16" | "w-20";
};

/** A short text, entered with Enter or by leaving the field; what was entered is not entered again by leaving it. */
export function TextField({ label, value, onEnter, mayBeEmpty, figures, placeholder, ...more }: Props) {
  const [text, setText] = useState(value);
  const entered = useRef<string | null>(null);
  useEffect(() => {
    entered.current = null;
    setText(value);
  }, [value]);
  const enter = () => {
    const trimmed = text.trim();
    if (trimmed === value) return;
    entered.current = trimmed;
    if (trimmed === "" && !mayBeEmpty) setText(value);
    else onEnter(trimmed);
  };
  return (
    <label className="flex min-w-0 flex-1 items-center gap-2" title={more.title}>
      <span className={`${more.labelWidth ?? "w-16"} shrink-0 opacity-80`}>{label}</span>
      <input
        className={`input input-xs w-full ${figures ? "figures" : ""}`}
        aria-label={label}
        placeholder={placeholder}
        maxLength={more.most}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => text.trim() !== entered.current && enter()}
        onKeyDown={(event) => {
          if (event.key === "Enter") enter();
          if (event.key === "Escape") setText(value);
        }}
      />
    </label>
  );
}
