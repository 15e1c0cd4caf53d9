import { useState } from "react";
import { useModelBench } from "../model/model-state";
import type { Hit } from "../model/view/picking";

/** What lay under a click, and which of it is picked. */
export function usePicking() {
  const { picked, set } = useModelBench();
  const [hits, setHits] = useState<Hit[]>([]);
  const pick = (found: Hit[]) => {
    setHits(found);
    set({ picked: found[0]?.element.guid ?? null });
  };
  const at = hits.findIndex((hit) => hit.element.guid === picked);
  const next = () => set({ picked: hits[(at + 1) % hits.length]?.element.guid ?? null });
  return { hit: hits[at], hits: picked ? hits : [], at, pick, next };
}
