import type { ReactNode } from "react";

/** A colour, and what stands beside it. The picker tells every shade that it passes over; the last one is kept. */
export function ColourField(props: {
  label: string;
  value: string;
  onChange: (colour: string) => void;
  children?: ReactNode;
}) {
  const { label, value, onChange, children } = props;
  return (
    <label className="flex items-center gap-2">
      <span className="w-20 shrink-0 opacity-80">{label}</span>
      <input
        key={value}
        type="color"
        className="h-5 w-8 cursor-pointer"
        aria-label={label}
        defaultValue={value}
        onBlur={(event) => event.target.value !== value && onChange(event.target.value)}
      />
      {children}
    </label>
  );
}
