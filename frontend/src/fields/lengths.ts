import { create } from "zustand";
import { type Lengths, parseLength, showLength } from "./length";

/** How the project in this window writes lengths. */
export const useLengthUnit = create<{ lengths: Lengths }>(() => ({ lengths: "mm" }));

const UNIT_WORDS: Record<Lengths, string> = { mm: "mm", m: "m", "ft-in": "" };
const EXAMPLES: Record<Lengths, string> = {
  mm: "2400, 2.4 m or 1200 + 600",
  m: "2.4, 2400 mm or 1.2 + 0.6",
  "ft-in": "7'-10 1/2\", 2.5 or 2400 mm",
};
/** What an arrow key adds, metres: a little with Shift. */
const STEPS: Record<Lengths, [number, number]> = {
  mm: [0.1, 0.01],
  m: [0.1, 0.01],
  "ft-in": [0.0254 * 6, 0.0254],
};

/** Lengths as the project writes them: shown, read, with their unit. */
export function useLengths() {
  return lengthsIn(useLengthUnit((s) => s.lengths));
}

export const lengthsNow = () => lengthsIn(useLengthUnit.getState().lengths);

const lengthsIn = (lengths: Lengths) => ({
  lengths,
  unit: UNIT_WORDS[lengths],
  example: EXAMPLES[lengths],
  steps: STEPS[lengths],
  show: (metres: number) => showLength(metres, lengths),
  /** With its unit, for sentences. */
  say: (metres: number) => `${showLength(metres, lengths)} ${UNIT_WORDS[lengths]}`.trim(),
  parse: (text: string) => parseLength(text, lengths),
});
