import { useEffect, useRef, useState } from "react";
import { fetched } from "../api/client";
import { parseView, type View } from "../drawing/screen-form";

/** A picture in the compact form, asked for anew when its question changes; the last one stays meanwhile. */
export function usePicture(
  url: string,
  body?: unknown,
  version?: number,
): { view: View | null; problem: string } {
  const [view, setView] = useState<View | null>(null);
  const [problem, setProblem] = useState("");
  const text = body === undefined ? undefined : JSON.stringify(body);
  const newest = useRef(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another version of the same thing is another picture
  useEffect(() => {
    newest.current += 1;
    const mine = newest.current;
    const ask = async () => {
      try {
        const response = await fetched(url, {
          method: text === undefined ? "GET" : "POST",
          headers: { "Content-Type": "application/json" },
          body: text,
        });
        const next = parseView(await response.arrayBuffer());
        if (mine !== newest.current) return;
        setView(next);
        setProblem("");
      } catch (error) {
        if (mine === newest.current)
          setProblem(error instanceof Error ? error.message : "The picture failed.");
      }
    };
    void ask();
  }, [url, text, version]);
  return { view, problem };
}
