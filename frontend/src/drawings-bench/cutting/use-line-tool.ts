import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import type { Cut, Drawing, SectionCut, Settings } from "../../api/client";
import { client, unwrap } from "../../api/client";
import { putDrawing, report } from "../../api/queries";
import { type Drawn, type LineDraft, type Place, useBench } from "../../desk/drawings-state";
import type { PaperPointer } from "../../drawing/DrawingCanvas";
import { useLengths } from "../../fields/lengths";
import { useCommand } from "../../shell/commands";
import { SNAP_REACH, sideAndDepth } from "./CuttingLine";
import { distance, onModel, rounded, straight } from "./plan-geometry";
import type { Snapper } from "./snaps";

export const HINTS = {
  none: "Press C, or the cut tool, to draw a cutting line. Click a marker to work on its section.",
  first: "Click where the cutting line begins; it snaps to what is near, not with Alt. Esc leaves.",
  second:
    "Click its other end; Shift keeps it straight; type a length, or length<angle, and press Enter. Esc steps back.",
  depth: "Move to the side to look at, and how deep; click. Tab turns round; type a depth and press Enter.",
} as const;

const WORDS: Record<Drawn, string> = {
  section: "",
  "wall section": "Wall section: ",
  elevation: "Elevation: ",
};
const SCALES: Partial<Record<Drawn, number>> = { "wall section": 20, elevation: 100 };

/** The cut that a line stands for when it is no building section. */
async function cutOf(project: number, drawn: Drawn, { line, look, ...rest }: SectionCut): Promise<Cut> {
  const [a, b] = line as [Place, Place];
  if (drawn === "wall section")
    return unwrap<SectionCut>(
      client.POST("/api/projects/{id}/wall-section", {
        params: { path: { id: project } },
        body: { line: [a, b], look: look ?? "left" },
      }),
    );
  const { extents, without, left_out, shown_set, hidden, glass } = rest;
  const shows = { extents, without, left_out, shown_set, hidden, glass };
  return {
    kind: "elevation",
    line: [a, b],
    look,
    depth: null,
    space: "",
    perspective: null,
    ...shows,
  } as Cut;
}

/** Keys held, what may be snapped to, and how near it must be, metres. */
type Modifiers = { shift: boolean; alt: boolean; reach: number; snapper: Snapper };

/** The cut that a draft stands for, as soon as it is one. */
export function draftCut(draft: LineDraft | null, settings: Settings): SectionCut | null {
  if (draft?.stage !== "depth" || distance(draft.a, draft.b) < 0.05) return null;
  return { ...settings.new_section, line: [draft.a, draft.b], look: draft.look, depth: draft.depth };
}

/** Drawing a cutting line on a plan: click, click, side and depth, click. */
export function useLineTool(project: number, plan: Drawing | undefined, settings: Settings) {
  const { draft, drawn, setDraft, startLine, setSnap, choose } = useBench();
  const { parse } = useLengths();
  const cache = useQueryClient();
  const [pointer, setPointer] = useState<Place | null>(null);
  const [typed, setTyped] = useState("");
  const scale = plan?.style.scale ?? 100;

  const add = useMutation({
    mutationFn: async (line: SectionCut) => {
      const cut = drawn === "section" ? line : await cutOf(project, drawn, line);
      return unwrap<Drawing>(
        client.POST("/api/projects/{id}/drawings", {
          params: { path: { id: project } },
          body: {
            parent_id: plan?.id ?? null,
            name: "",
            cut,
            style: { ...settings.new_style, scale: SCALES[drawn] ?? settings.new_style.scale },
          },
        }),
      );
    },
    onSuccess: (drawing) => {
      putDrawing(cache, project, drawing);
      choose(project, drawing.id);
    },
    onError: report,
  });

  const modifiers = ({ shift, alt, zoom }: PaperPointer, snapper: Snapper): Modifiers => ({
    snapper,
    shift,
    alt,
    reach: (SNAP_REACH / zoom) * (scale / 1000),
  });
  const finish = (done: LineDraft) => {
    const cut = draftCut(done, settings);
    if (cut && !add.isPending) add.mutate(cut);
  };
  /** Where a point of the line comes to lie: straight from `a` with Shift, else snapped unless Alt is held. */
  const placed = (p: Place, by: Modifiers, a?: Place): Place => {
    if (a && by.shift) {
      setSnap(null);
      return rounded(straight(a, p));
    }
    const snap = by.alt ? null : by.snapper.find(p, by.reach, a);
    setSnap(snap);
    return rounded(snap?.at ?? p);
  };

  const click = (p: Place, by: Modifiers) => {
    setTyped("");
    if (!draft) return;
    if (draft.stage === "first") setDraft({ stage: "second", a: placed(p, by) });
    else if (draft.stage === "second") {
      const b = placed(p, by, draft.a);
      if (distance(draft.a, b) >= 0.05)
        setDraft({ stage: "depth", a: draft.a, b, look: "left", depth: settings.new_section.depth ?? 5 });
    } else {
      setSnap(null);
      finish({ ...draft, ...sideAndDepth(draft.a, draft.b, p) });
    }
  };
  const move = (p: Place, by: Modifiers) => {
    if (!draft) return;
    setPointer(draft.stage === "depth" ? p : placed(p, by, draft.stage === "second" ? draft.a : undefined));
    if (draft.stage === "depth") setSnap(null);
    if (draft.stage === "depth" && !typed) setDraft({ ...draft, ...sideAndDepth(draft.a, draft.b, p) });
  };

  const enterTyped = () => {
    const [long, angle] = typed.split("<");
    const metres = long?.trim()
      ? parse(long)
      : draft?.stage === "second" && pointer
        ? distance(draft.a, pointer)
        : null;
    if (!draft || metres === null || metres <= 0) return false;
    if (draft.stage === "second" && pointer) {
      const towards = Math.atan2(pointer[1] - draft.a[1], pointer[0] - draft.a[0]);
      const turn = angle === undefined ? towards : (Number(angle) * Math.PI) / 180;
      if (!Number.isFinite(turn)) return false;
      const b = rounded([draft.a[0] + Math.cos(turn) * metres, draft.a[1] + Math.sin(turn) * metres]);
      setDraft({ stage: "depth", a: draft.a, b, look: "left", depth: settings.new_section.depth ?? 5 });
    } else if (draft.stage === "depth") finish({ ...draft, depth: Math.max(0.1, metres) });
    setTyped("");
    return true;
  };

  const active = { enabled: draft !== null, preventDefault: true };
  useHotkeys(
    "escape",
    () => {
      setTyped("");
      if (draft?.stage === "depth") setDraft({ stage: "second", a: draft.a });
      else if (draft?.stage === "second") setDraft({ stage: "first" });
      else setDraft(null);
    },
    active,
    [draft],
  );
  useHotkeys(
    "tab",
    () => draft?.stage === "depth" && setDraft({ ...draft, look: draft.look === "left" ? "right" : "left" }),
    { enabled: draft?.stage === "depth", preventDefault: true },
    [draft],
  );
  useHotkeys(
    "enter",
    () => {
      if (!enterTyped() && draft?.stage === "depth") finish(draft);
    },
    active,
    [draft, typed, pointer],
  );
  useHotkeys(
    "*",
    (event) => {
      if (event.key === "Backspace") setTyped((old) => old.slice(0, -1));
      else if (/^[-\d.,+*/()mcftin'"< ]$/.test(event.key)) setTyped((old) => old + event.key);
    },
    { enabled: draft !== null && draft.stage !== "first" },
    [draft],
  );
  useCommand({
    name: "Draw a cutting line",
    group: "Drawing",
    keys: "c",
    enabled: draft === null && plan !== undefined,
    run: () => startLine("section"),
  });

  return {
    draft,
    pointer,
    typed,
    hint: draft ? `${WORDS[drawn]}${HINTS[draft.stage]}` : HINTS.none,
    start: (kind: Drawn = "section") => startLine(kind),
    onClick: (pointer: PaperPointer, snapper: Snapper) =>
      click(onModel(pointer.paper, scale), modifiers(pointer, snapper)),
    onMove: (pointer: PaperPointer, snapper: Snapper) =>
      move(onModel(pointer.paper, scale), modifiers(pointer, snapper)),
  };
}
