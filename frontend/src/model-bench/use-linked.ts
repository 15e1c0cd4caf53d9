import { useEffect, useRef } from "react";
import { useSearchParams } from "react-router";
import { toast } from "sonner";
import type { Drawing } from "../api/client";
import { useModelBench } from "../model/model-state";

/** A link names the element that is picked, or the drawing that opens the model; a drawing that is deleted elsewhere opens nothing any more. */
export function useLinked(like: Drawing | undefined) {
  const { drawing, set } = useModelBench();
  const [query, setQuery] = useSearchParams();
  const linked = Number(query.get("drawing")) || undefined;
  const element = query.get("element");
  useEffect(() => {
    if (linked === undefined && element === null) return;
    if (linked !== undefined) set({ drawing: linked });
    if (element !== null) set({ picked: element });
    setQuery({}, { replace: true });
  }, [linked, element, set, setQuery]);
  const was = useRef<number | null>(null);
  useEffect(() => {
    if (drawing !== null && !like && was.current === drawing) {
      set({ drawing: null });
      toast("This drawing was deleted elsewhere; a plane that was taken up from it is kept.");
    }
    was.current = like ? drawing : null;
  }, [drawing, like, set]);
}
