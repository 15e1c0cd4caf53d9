import { ChevronDown } from "lucide-react";
/** One of a few values, with its name beside it. */
export function Choice<T extends string>(props: {
  label: string;
  value: T;
  options: readonly (readonly [value: T, words: string])[];
  /** Of its name, as other fields of its panel have it. */
  labelWidth?: "w-16" | "w-20";
  onChange: (value: T) => void;
}) {
  return (
    <label className="flex items-center gap-2">
      <span className={`${props.labelWidth ?? "w-20"} shrink-0 opacity-80`}>{props.label}</span>
      {/* the arrow stands on ground of its own: a long option runs under it and ends there */}
      <span className="relative flex min-w-0 flex-1">
        <select
          className="select select-xs w-full bg-none"
          aria-label={props.label}
          value={props.value}
          onChange={(event) => props.onChange(event.target.value as T)}
        >
          {props.options.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
        <span
          aria-hidden="true"
          className="pointer-events-none absolute inset-y-px right-px flex w-5 items-center rounded-e bg-base-100 pl-1"
        >
          <ChevronDown size={12} />
        </span>
      </span>
    </label>
  );
}

/** Yes or no. */
export function Check(props: { label: string; checked: boolean; onChange: (checked: boolean) => void }) {
  return (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        className="checkbox checkbox-xs"
        checked={props.checked}
        onChange={(event) => props.onChange(event.target.checked)}
      />
      {props.label}
    </label>
  );
}
