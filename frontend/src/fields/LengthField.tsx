import { useEffect, useRef, useState } from "react";
import { useLengths } from "./lengths";

type Props = {
  label: string;
  value: number | null;
  /** What stands in the field while there is no value. */
  placeholder?: string;
  least?: number;
  /** Called with metres when a new value is entered; null when the field is emptied and may be. */
  onChange: (metres: number | null) => void;
  /** Called with metres while a length is being typed, for what shows at once what it would be. */
  whileTyped?: (metres: number) => void;
  mayBeEmpty?: boolean;
};

/** A length: typed with units and arithmetic, nudged with the arrow keys. */
export function LengthField({ label, value, placeholder, least, onChange, whileTyped, mayBeEmpty }: Props) {
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState("");
  const letGo = useRef(false);
  const { show, parse, say, unit, example, steps } = useLengths();
  const shown = text ?? (value === null ? "" : show(value));
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new value from outside ends what was being typed
  useEffect(() => {
    setText(null);
    setWrong("");
  }, [value]);

  const enter = (typed: string) => {
    if (typed.trim() === "" && mayBeEmpty) {
      setWrong("");
      if (value !== null) onChange(null);
      return;
    }
    const metres = parse(typed);
    if (metres === null) setWrong(`“${typed}” is no length; write it like ${example}`);
    else if (least !== undefined && metres < least) setWrong(`At least ${say(least)}`);
    else {
      setWrong("");
      setText(null);
      if (metres !== value) onChange(metres);
    }
  };

  return (
    <label className="flex flex-col gap-0.5">
      <span className="flex items-center gap-2">
        <span className="w-20 shrink-0 opacity-80">{label}</span>
        <input
          className={`input input-xs figures w-full px-1.5 text-right ${wrong ? "input-error" : ""}`}
          aria-label={label}
          value={shown}
          placeholder={placeholder}
          aria-invalid={wrong !== ""}
          onChange={(event) => {
            setText(event.target.value);
            const metres = whileTyped ? parse(event.target.value) : null;
            if (metres !== null && metres >= (least ?? metres)) whileTyped?.(metres);
          }}
          onBlur={() => {
            if (text !== null && !letGo.current) enter(text);
            letGo.current = false;
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter") enter(shown);
            if (event.key === "Escape") {
              if (text !== null) event.stopPropagation(); // what was typed is let go of, nothing else
              letGo.current = true; // leaving the field then enters nothing
              setText(null);
              setWrong("");
              if (value !== null) whileTyped?.(value);
              event.currentTarget.blur();
            }
            if ((event.key === "ArrowUp" || event.key === "ArrowDown") && value !== null) {
              event.preventDefault();
              const step = steps[event.shiftKey ? 1 : 0] * (event.key === "ArrowUp" ? 1 : -1);
              const next = Math.round((value + step) * 1e4) / 1e4;
              if (least === undefined || next >= least) onChange(next);
            }
          }}
        />
        <span className="w-6 text-xs opacity-85">{unit}</span>
      </span>
      {wrong && (
        <span role="alert" className="text-xs text-error">
          {wrong}
        </span>
      )}
    </label>
  );
}
