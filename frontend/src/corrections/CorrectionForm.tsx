import { Undo2 } from "lucide-react";
import type { ReactNode } from "react";
import { TextField } from "../fields/TextField";

type Props = {
  label: string;
  reason: string;
  onReason: (reason: string) => void;
  /** What its button is called; it stands still where nothing would be drawn otherwise. */
  act?: string;
  ready: boolean;
  onDraw: () => void;
  /** Whether there is such a correction, which can be taken back. */
  kept: boolean;
  onTakeBack: () => void;
  onLeave: () => void;
  children?: ReactNode;
};

/** What of the model shall be otherwise, and why: drawn so, taken back, or left. */
export function CorrectionForm({ label, reason, onReason, act, ready, kept, children, ...on }: Props) {
  return (
    <fieldset aria-label={label} className="flex flex-col gap-1 text-xs">
      {children}
      <TextField label="Because" labelWidth="w-16" value={reason} mayBeEmpty most={500} onEnter={onReason} />
      <span className="flex flex-wrap gap-1">
        <button type="button" className="btn btn-primary btn-xs" disabled={!ready} onClick={on.onDraw}>
          {act ?? "Draw it so"}
        </button>
        {kept ? (
          <button type="button" className="btn btn-xs" onClick={on.onTakeBack}>
            <Undo2 size={11} /> As the file has it
          </button>
        ) : (
          <button type="button" className="btn btn-ghost btn-xs" onClick={on.onLeave}>
            Leave it
          </button>
        )}
      </span>
    </fieldset>
  );
}
