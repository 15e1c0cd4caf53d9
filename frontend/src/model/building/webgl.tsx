import type { ReactNode } from "react";

/** Whether this browser shows anything in three dimensions. */
const HAS_WEBGL = (() => {
  try {
    return document.createElement("canvas").getContext("webgl2") !== null;
  } catch {
    return false;
  }
})();

/** What is said while a lost picture is waited for. */
export const LOST = "The graphics of this machine were taken away; the view comes back when they do.";

/** What is shown in three dimensions, or what stands where it would. */
export function NeedsWebGl({ children }: { children: ReactNode }) {
  if (HAS_WEBGL) return children;
  return (
    <p role="alert" className="p-8">
      This browser shows nothing in three dimensions (it has no WebGL 2). The lists and typed values beside
      this still work, and so do all other benches.
    </p>
  );
}
