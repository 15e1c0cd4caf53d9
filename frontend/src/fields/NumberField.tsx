import { useEffect, useState } from "react";

type Props = {
  label: string;
  value: number | null;
  unit?: string;
  placeholder?: string;
  least?: number;
  most?: number;
  wide?: boolean;
  onChange: (value: number) => void;
};

/** A plain number, entered with Enter or by leaving the field. */
export function NumberField({ label, value, unit, placeholder, least, most, wide = true, onChange }: Props) {
  const [text, setText] = useState<string | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new value from outside ends what was being typed
  useEffect(() => setText(null), [value]);
  const typed = Number((text ?? "").replace(",", "."));
  const wrong =
    text !== null &&
    (text.trim() === "" ||
      !Number.isFinite(typed) ||
      (least !== undefined && typed < least) ||
      (most !== undefined && typed > most));
  const enter = () => {
    if (text === null || wrong) return;
    setText(null);
    if (typed !== value) onChange(typed);
  };
  const range = least !== undefined && most !== undefined ? `, ${least} to ${most}` : "";
  return (
    <label className="flex items-center gap-2">
      {wide && <span className="w-20 shrink-0 opacity-80">{label}</span>}
      <input
        className={`input input-xs figures min-w-0 flex-1 text-right ${wrong ? "input-error" : ""}`}
        aria-label={label}
        aria-invalid={wrong}
        title={wrong ? `A number${range}` : undefined}
        inputMode="decimal"
        placeholder={placeholder}
        value={text ?? (value === null ? "" : String(value))}
        onChange={(event) => setText(event.target.value)}
        onBlur={enter}
        onKeyDown={(event) => {
          if (event.key === "Enter") enter();
          if (event.key === "Escape") setText(null);
        }}
      />
      {unit !== undefined && <span className="w-6 text-xs opacity-85">{unit}</span>}
    </label>
  );
}
