/** A colour. The picker tells every shade that it passes over; the last one is kept. */
export function ColourField(props: { label: string; value: string; onChange: (colour: string) => void }) {
  const { label, value, onChange } = props;
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
    </label>
  );
}
