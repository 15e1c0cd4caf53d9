import { Upload } from "lucide-react";
import { useRef } from "react";

type Props = {
  words: string;
  /** What the file is, for those who hear it. */
  label: string;
  accept: string;
  onFile: (file: File) => void;
};

/** A button that asks for a file to be read. */
export function ReadFile({ words, label, accept, onFile }: Props) {
  const chosen = useRef<HTMLInputElement>(null);
  return (
    <>
      <button type="button" className="btn btn-xs" onClick={() => chosen.current?.click()}>
        <Upload size={12} /> {words}
      </button>
      <input
        ref={chosen}
        type="file"
        accept={accept}
        aria-label={label}
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) onFile(file);
          event.target.value = "";
        }}
      />
    </>
  );
}
