import { type FormEvent, type ReactNode, useState } from "react";

type Props = {
  title: string;
  /** What was refused, in words. */
  problem: string;
  act: string;
  busy: boolean;
  onSubmit: () => void;
  children: ReactNode;
};

/** A form before the rooms: a page with nothing else on it. */
export function Door({ title, problem, act, busy, onSubmit, children }: Props) {
  const submit = (event: FormEvent) => {
    event.preventDefault();
    onSubmit();
  };
  return (
    <main className="grid h-full min-h-0 place-items-center overflow-y-auto bg-base-200 p-6 text-base-content">
      <form
        onSubmit={submit}
        className="flex w-full max-w-sm flex-col gap-3 rounded border border-base-300 bg-base-100 p-6"
      >
        <p className="flex items-center gap-2 font-semibold">
          <img src="/mark.svg" alt="" className="size-6" /> Edge Slice
        </p>
        <h1 className="text-lg font-semibold">{title}</h1>
        {children}
        {problem && (
          <p role="alert" className="text-sm text-error">
            {problem}
          </p>
        )}
        <button type="submit" className="btn btn-primary btn-sm self-start" disabled={busy}>
          {act}
        </button>
      </form>
    </main>
  );
}

type FieldProps = {
  label: string;
  value: string;
  onChange: (text: string) => void;
  type?: "text" | "email" | "password";
  complete?: string;
  most?: number;
  first?: boolean;
  hint?: string;
};

/** A field of such a form; a password can be looked at while it is typed. */
export function DoorField({ label, value, onChange, hint, type = "text", ...more }: FieldProps) {
  const [shown, setShown] = useState(false);
  const field = (
    <label className="flex flex-col gap-1 text-sm">
      {label}
      <input
        className="input input-sm w-full"
        type={shown ? "text" : type}
        spellCheck={type === "password" ? false : undefined}
        autoComplete={more.complete}
        maxLength={more.most ?? 200}
        // biome-ignore lint/a11y/noAutofocus: the page has nothing else to begin with
        autoFocus={more.first}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
      {hint && <span className="text-xs opacity-80">{hint}</span>}
    </label>
  );
  if (type !== "password") return field;
  return (
    <div className="relative">
      {field}
      <button
        type="button"
        className="btn btn-ghost btn-xs absolute top-0 right-0"
        aria-pressed={shown}
        aria-label="Show what is typed"
        onClick={() => setShown(!shown)}
      >
        Show
      </button>
    </div>
  );
}
