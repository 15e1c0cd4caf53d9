type Props = { label: string; value: string; classes: string[]; onChoose: (is: string) => void };

/** One of the classes of material. */
export function ClassChoice({ label, value, classes, onChoose }: Props) {
  return (
    <select
      className="select select-xs w-36"
      aria-label={label}
      value={value}
      onChange={(event) => event.target.value && onChoose(event.target.value)}
    >
      {value === "" && <option value="">choose …</option>}
      {classes.map((key) => (
        <option key={key} value={key}>
          {key}
        </option>
      ))}
    </select>
  );
}
