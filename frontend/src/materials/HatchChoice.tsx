type Props = { label: string; value: string; hatches: string[]; onChoose: (hatch: string) => void };

/** One of the hatches, or that of the class. */
export function HatchChoice({ label, value, hatches, onChoose }: Props) {
  return (
    <select
      className="select select-xs w-36 min-w-0 max-w-full"
      aria-label={label}
      value={value}
      onChange={(event) => onChoose(event.target.value)}
    >
      <option value="">its class's hatch</option>
      {hatches.map((key) => (
        <option key={key} value={key}>
          {key}
        </option>
      ))}
    </select>
  );
}
