import type { RefObject } from "react";

type Props = {
  /** A button opens it by `click()`. */
  field: RefObject<HTMLInputElement | null>;
  label: string;
  accept: string;
  onFile: (file: File) => unknown;
};

/** A field for a file that does not show itself; the same file may be chosen again. */
export function FileField({ field, label, accept, onFile }: Props) {
  return (
    <input
      ref={field}
      type="file"
      accept={accept}
      className="hidden"
      aria-label={label}
      onChange={(event) => {
        const file = event.target.files?.[0];
        event.target.value = "";
        if (file) onFile(file);
      }}
    />
  );
}
