type Props = {
  label: string;
  value: string;
  classes: string[];
  onChoose: (is: string) => void;
  /** What nothing chosen is called, where that can be chosen again. */
  usual?: string;
};

/** One of the classes of material. */
export function ClassChoice({ label, value, classes, onChoose, usual }: Props) {
  return (
    <select
      className="select select-xs w-36 min-w-0 max-w-full"
      aria-label={label}
      value={value}
      onChange={(event) => (event.target.value || usual) && onChoose(event.target.value)}
    >
      {(usual || value === "") && <option value="">{usual ?? "choose …"}</option>}
      {classes.map((key) => (
        <option key={key} value={key}>
          {key}
        </option>
      ))}
    </select>
  );
}
