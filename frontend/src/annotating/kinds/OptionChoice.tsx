import { type Options, useAnnotate } from "../state";

type Props<K extends keyof Options> = { label: string; option: K; values: readonly string[] };

/** One of the options of the tool in hand, chosen at the foot of the pane. */
export function OptionChoice<K extends keyof Options>({ label, option, values }: Props<K>) {
  const { options, setOptions } = useAnnotate();
  return (
    <select
      aria-label={label}
      className="select select-xs w-24 shrink-0"
      value={String(options[option])}
      onChange={(event) => setOptions({ [option]: event.target.value } as Partial<Options>)}
    >
      {values.map((value) => (
        <option key={value}>{value}</option>
      ))}
    </select>
  );
}
