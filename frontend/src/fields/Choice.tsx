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
      <select
        className="select select-xs block min-w-0 flex-1 truncate"
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
