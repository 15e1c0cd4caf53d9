import type { SectionCut, Settings } from "../../api/client";
import type { Look } from "../../desk/drawings-state";
import { held, type Place } from "../../desk/mode";
import { distance, rounded } from "./plan-geometry";

export type Drawn = "section" | "wall section" | "elevation";

/** A cutting line being drawn: first end, second end, then side and depth; model metres. */
export type LineDraft =
  | { stage: "first" }
  | { stage: "second"; a: Place }
  | { stage: "depth"; a: Place; b: Place; look: Look; depth: number };

/** The line being drawn: what it becomes, where the pointer is, and what was typed. */
export type Lining = {
  kind: "line";
  drawn: Drawn;
  draft: LineDraft;
  pointer: Place | null;
  typed: string;
  /** It is drawn, and its drawing is being made. */
  making: boolean;
};
export const line = held<Lining>("line");

export const LEAST_LINE = 0.05; // metres

/** The cut that a draft stands for, as soon as it is one. */
export function draftCut(draft: LineDraft | undefined, settings: Settings): SectionCut | null {
  if (draft?.stage !== "depth" || distance(draft.a, draft.b) < LEAST_LINE) return null;
  return { ...settings.new_section, line: [draft.a, draft.b], look: draft.look, depth: draft.depth };
}

/** One step back: from side and depth to the second end, from there to the first. */
export function earlierStage(draft: LineDraft): LineDraft | null {
  if (draft.stage === "depth") return { stage: "second", a: draft.a };
  return draft.stage === "second" ? { stage: "first" } : null;
}

/** What is typed while a line is drawn: a length, or length<angle, towards the pointer where there is no angle; or a
 * depth. Null where it says nothing. */
export function withTyped(
  { draft, pointer, typed }: Pick<Lining, "draft" | "pointer" | "typed">,
  parse: (text: string) => number | null,
  depth: number,
): LineDraft | null {
  const [long, angle] = typed.split("<");
  const towards = draft.stage === "second" && pointer ? pointer : null;
  const metres = long?.trim()
    ? parse(long)
    : towards && draft.stage === "second"
      ? distance(draft.a, towards)
      : null;
  if (metres === null || metres <= 0) return null;
  if (draft.stage === "depth") return { ...draft, depth: Math.max(0.1, metres) };
  if (draft.stage === "first" || !towards) return null;
  const turn =
    angle === undefined
      ? Math.atan2(towards[1] - draft.a[1], towards[0] - draft.a[0])
      : (Number(angle) * Math.PI) / 180;
  if (!Number.isFinite(turn)) return null;
  const b = rounded([draft.a[0] + Math.cos(turn) * metres, draft.a[1] + Math.sin(turn) * metres]);
  return { stage: "depth", a: draft.a, b, look: "left", depth };
}
