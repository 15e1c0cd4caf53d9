import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import type { Drawing, SectionCut, Settings } from "../api/client";
import { client, unwrap } from "../api/client";
import { putDrawing, report } from "../api/queries";
import { useLengths } from "../fields/lengths";
import { type LineDraft, type Place, useBench } from "./bench-state";
import { sideAndDepth } from "./CuttingLine";
import { distance, onModel, rounded, straight } from "./plan-geometry";

export const HINTS = {
  none: "Press C, or the cut tool, to draw a cutting line. Click a marker to work on its section.",
  first: "Click where the cutting line begins. Esc leaves.",
  second: "Click its other end; Shift keeps it straight; type a length and press Enter. Esc steps back.",
  depth: "Move to the side to look at, and how deep; click. Tab turns round; type a depth and press Enter.",
} as const;

/** The cut that a draft stands for, as soon as it is one. */
export function draftCut(draft: LineDraft | null, settings: Settings): SectionCut | null {
  if (draft?.stage !== "depth" || distance(draft.a, draft.b) < 0.05) return null;
  return { ...settings.new_section, line: [draft.a, draft.b], look: draft.look, depth: draft.depth };
}

/** Drawing a cutting line on a plan: click, click, side and depth, click. */
export function useLineTool(project: number, plan: Drawing | undefined, settings: Settings) {
  const { draft, setDraft, choose } = useBench();
  const { parse } = useLengths();
  const cache = useQueryClient();
  const [pointer, setPointer] = useState<Place | null>(null);
  const [typed, setTyped] = useState("");
  const scale = plan?.style.scale ?? 100;

  const add = useMutation({
    mutationFn: (cut: SectionCut) =>
      unwrap<Drawing>(
        client.POST("/api/projects/{id}/drawings", {
          params: { path: { id: project } },
          body: {
            parent_id: plan?.id ?? null,
            name: "",
            cut,
            style: settings.new_style,
          },
        }),
      ),
    onSuccess: (drawing) => {
      putDrawing(cache, project, drawing);
      choose(project, drawing.id);
    },
    onError: report,
  });

  const finish = (done: LineDraft) => {
    const cut = draftCut(done, settings);
    if (cut && !add.isPending) add.mutate(cut);
  };
  const end = (a: Place, p: Place, shift: boolean): Place => rounded(shift ? straight(a, p) : p);

  const click = (p: Place, shift: boolean) => {
    setTyped("");
    if (!draft) return;
    if (draft.stage === "first") setDraft({ stage: "second", a: rounded(p) });
    else if (draft.stage === "second") {
      const b = end(draft.a, p, shift);
      if (distance(draft.a, b) >= 0.05)
        setDraft({ stage: "depth", a: draft.a, b, look: "left", depth: settings.new_section.depth ?? 5 });
    } else finish({ ...draft, ...sideAndDepth(draft.a, draft.b, p) });
  };
  const move = (p: Place, shift: boolean) => {
    if (!draft) return;
    setPointer(draft.stage === "second" ? end(draft.a, p, shift) : p);
    if (draft.stage === "depth" && !typed) setDraft({ ...draft, ...sideAndDepth(draft.a, draft.b, p) });
  };

  const enterTyped = () => {
    const metres = parse(typed);
    if (!draft || metres === null || metres <= 0) return false;
    if (draft.stage === "second" && pointer) {
      const share = metres / (distance(draft.a, pointer) || 1);
      const b = rounded([
        draft.a[0] + (pointer[0] - draft.a[0]) * share,
        draft.a[1] + (pointer[1] - draft.a[1]) * share,
      ]);
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
      else if (/^[-\d.,+*/()mcftin'" ]$/.test(event.key)) setTyped((old) => old + event.key);
    },
    { enabled: draft !== null && draft.stage !== "first" },
    [draft],
  );
  useHotkeys("c", () => plan && setDraft({ stage: "first" }), { enabled: draft === null }, [draft, plan]);

  return {
    draft,
    pointer,
    typed,
    hint: draft ? HINTS[draft.stage] : HINTS.none,
    start: () => setDraft({ stage: "first" }),
    onClick: (paper: { x: number; y: number }, shift: boolean) => click(onModel(paper, scale), shift),
    onMove: (paper: { x: number; y: number }, shift: boolean) => move(onModel(paper, scale), shift),
  };
}
