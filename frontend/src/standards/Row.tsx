import { NumberField } from "../fields/NumberField";

type RowProps = {
  label: string;
  value: number;
  unit?: string;
  least?: number;
  most?: number;
  onChange: (value: number) => void;
};

/** A number of a standard, with what it is. */
export function Row({ label, value, unit = "", least = 0, most = 1_000_000, onChange }: RowProps) {
  return (
    <div className="flex items-center gap-2">
      <span className="w-44 shrink-0">{label}</span>
      <NumberField wide={false} {...{ label, value, unit, least, most, onChange }} />
    </div>
  );
}
