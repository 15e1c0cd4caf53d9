import { useEffect, useRef, useState } from "react";
import { parseView } from "../../drawing/screen-form";
import { askForView, type Spec } from "../../drawing/use-view";
import { dispose, type Faces, facesOf } from "./faces";

export type Wanted = Spec & { key: string };
export type Found = { key: string; faces: Faces };

const AT_ONCE = 2; // requests: while one is drawn the next is cut

/** Cut faces by the core, for each place of a list: while a plane moves, only the newest request of a place waits;
 * what comes late is dropped. */
export function useFaces(project: number, wanted: Wanted[]) {
  const [found, setFound] = useState<(Found | null)[]>([]);
  const [problem, setProblem] = useState("");
  const state = useRef({
    running: 0,
    next: new Map<number, Wanted>(),
    asked: 0,
    shown: new Map<number, number>(),
    known: new Map<number, string>(),
    many: 0,
    gone: false,
  });
  const said = wanted.map((w) => w.key).join("|");
  // biome-ignore lint/correctness/useExhaustiveDependencies: the keys say all of what is wanted
  useEffect(() => {
    const s = state.current;
    s.gone = false;
    s.many = wanted.length;
    for (const place of s.known.keys()) if (place >= s.many) s.known.delete(place);
    for (const place of s.next.keys()) if (place >= s.many) s.next.delete(place);
    wanted.forEach((one, place) => {
      if (s.known.get(place) === one.key) return;
      s.known.set(place, one.key);
      s.next.set(place, one);
    });
    setFound((old) => old.slice(0, wanted.length));
    if (wanted.length === 0) setProblem("");
    const run = async () => {
      if (s.running === AT_ONCE) return;
      s.running += 1;
      for (let first = nextOf(s.next); first && !s.gone; first = nextOf(s.next)) {
        const [place, one] = first;
        s.asked += 1;
        const number = s.asked;
        try {
          const answer = await askForView(`/api/projects/${project}/view`, {
            cut: one.cut,
            style: one.style,
          });
          const faces = parseView(await answer.arrayBuffer());
          if (s.gone || place >= s.many || number < (s.shown.get(place) ?? 0)) continue;
          s.shown.set(place, number);
          setProblem("");
          setFound((old) => placed(old, place, { key: one.key, faces: facesOf(faces) }));
        } catch (error) {
          if (place >= s.many || number < (s.shown.get(place) ?? 0)) continue;
          setProblem(error instanceof Error ? error.message : "");
          setFound((old) => placed(old, place, null));
        }
      }
      s.running -= 1;
    };
    void run();
    void run();
  }, [project, said]);
  useEffect(() => {
    const s = state.current;
    return () => {
      s.gone = true;
      s.known.clear();
    };
  }, []);
  return { found: found.slice(0, wanted.length), problem };
}

function nextOf(waiting: Map<number, Wanted>): [number, Wanted] | null {
  const first = waiting.entries().next();
  if (first.done) return null;
  waiting.delete(first.value[0]);
  return first.value;
}

function placed(old: (Found | null)[], place: number, one: Found | null): (Found | null)[] {
  const before = old[place];
  if (before) dispose(before.faces);
  const next = [...old];
  while (next.length < place) next.push(null);
  next[place] = one;
  return next;
}
