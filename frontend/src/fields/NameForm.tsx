type Props = {
  label: string;
  placeholder: string;
  /** What stands on the button. */
  act: string;
  onName: (name: string) => void;
};

/** A name for something new, and the act that makes it. */
export function NameForm({ label, placeholder, act, onName }: Props) {
  return (
    <form
      className="flex gap-1"
      onSubmit={(event) => {
        event.preventDefault();
        const name = String(new FormData(event.currentTarget).get("name") ?? "").trim();
        if (!name) return;
        event.currentTarget.reset();
        onName(name);
      }}
    >
      <input
        name="name"
        aria-label={label}
        className="input input-xs min-w-0 flex-1"
        placeholder={placeholder}
        maxLength={60}
      />
      <button type="submit" className="btn btn-xs">
        {act}
      </button>
    </form>
  );
}
