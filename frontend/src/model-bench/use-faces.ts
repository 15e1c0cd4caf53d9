import { useEffect, useRef, useState } from "react";
import type { Cut, Style } from "../api/client";
import { parseView } from "../drawing/screen-form";
import { dispose, type Faces, facesOf } from "./faces";

export type Wanted = { key: string; cut: Cut; style: Style };

const AT_ONCE = 2; // requests: while one is drawn the next is cut

/** Cut faces by the core: while a plane moves, only the newest request waits; what comes late is dropped. */
export function useFaces(project: number, wanted: Wanted | null) {
  const [faces, setFaces] = useState<{ key: string; faces: Faces } | null>(null);
  const [problem, setProblem] = useState("");
  const state = useRef({ running: 0, next: null as Wanted | null, gone: false, asked: 0, shown: 0 });
  const key = wanted?.key ?? "";
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says all of what is wanted
  useEffect(() => {
    const s = state.current;
    s.gone = false;
    s.next = wanted;
    if (wanted === null) setFaces(null);
    const run = async () => {
      if (s.running === AT_ONCE) return;
      s.running += 1;
      while (s.next && !s.gone) {
        const one = s.next;
        s.next = null;
        s.asked += 1;
        const number = s.asked;
        try {
          const response = await fetch(`/api/projects/${project}/view`, {
            method: "POST",
            headers: { "Content-Type": "application/json" },
            body: JSON.stringify({ cut: one.cut, style: one.style }),
          });
          if (!response.ok) throw new Error((await response.json()).message);
          const view = parseView(await response.arrayBuffer());
          if (number < s.shown || s.gone) continue;
          s.shown = number;
          const made = facesOf(view);
          setProblem("");
          setFaces((old) => {
            if (old) dispose(old.faces);
            return { key: one.key, faces: made };
          });
        } catch (error) {
          if (number < s.shown) continue;
          setProblem(error instanceof Error ? error.message : "");
          setFaces(null);
        }
      }
      s.running -= 1;
    };
    void run();
  }, [project, key]);
  useEffect(() => {
    const s = state.current;
    return () => {
      s.gone = true;
    };
  }, []);
  return { faces: wanted ? (faces?.faces ?? null) : null, of: faces?.key ?? "", problem };
}
