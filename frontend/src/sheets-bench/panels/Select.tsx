type Props = {
  label: string;
  value: string;
  options: (readonly [value: string, words: string])[];
  onChange: (value: string) => void;
};

/** One of a few values in a panel of the sheets. */
export function Select({ label, value, options, onChange }: Props) {
  return (
    <label className="flex items-center gap-2">
      <span className="w-16 shrink-0 opacity-80">{label}</span>
      <select
        className="select select-xs min-w-0 flex-1"
        aria-label={label}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      >
        {options.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}
