import { useState } from "react";

/** One act at a time of a form, and what was refused of it. */
export function useAct() {
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState("");
  const run = async (act: () => Promise<void>) => {
    setBusy(true);
    setProblem("");
    try {
      await act();
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    } finally {
      setBusy(false);
    }
  };
  return { busy, problem, run };
}
