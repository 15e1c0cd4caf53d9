import { useEffect, useRef, useState } from "react";
import type { Cut, Style } from "../api/client";
import { parseView } from "../drawing/screen-form";
import { dispose, type Faces, facesOf } from "./faces";

export type Wanted = { key: string; cut: Cut; style: Style };

/** Cut faces by the core: while a plane moves, one request is under way and only the newest waits. */
export function useFaces(project: number, wanted: Wanted | null) {
  const [faces, setFaces] = useState<{ key: string; faces: Faces } | null>(null);
  const [problem, setProblem] = useState("");
  const state = useRef({ running: false, next: null as Wanted | null, gone: false, made: 0 });
  const key = wanted?.key ?? "";
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says all of what is wanted
  useEffect(() => {
    const s = state.current;
    s.gone = false;
    s.next = wanted;
    if (wanted === null) setFaces(null);
    const run = async () => {
      if (s.running) return;
      s.running = true;
      while (s.next && !s.gone) {
        const one = s.next;
        s.next = null;
        try {
          const response = await fetch(`/api/projects/${project}/view`, {
            method: "POST",
            headers: { "Content-Type": "application/json" },
            body: JSON.stringify({ cut: one.cut, style: one.style }),
          });
          if (!response.ok) throw new Error((await response.json()).message);
          const made = facesOf(parseView(await response.arrayBuffer()));
          s.made += 1;
          setProblem("");
          setFaces((old) => {
            if (old) dispose(old.faces);
            return { key: one.key, faces: made };
          });
        } catch (error) {
          setProblem(error instanceof Error ? error.message : "");
          setFaces(null);
        }
      }
      s.running = false;
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
