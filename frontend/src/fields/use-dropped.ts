import { useEffect, useRef, useState } from "react";

const holdsFiles = (event: DragEvent) => event.dataTransfer?.types.includes("Files") ?? false;

/** Files that are dropped anywhere in the window, and whether some are held over it: a browser would leave the
 * application to show them. */
export function useDropped(take: (files: File[]) => void): boolean {
  const [over, setOver] = useState(false);
  const taken = useRef(take);
  taken.current = take;
  useEffect(() => {
    let inside = 0; // each part of the page is entered and left on its own
    const enter = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      inside += 1;
      setOver(true);
    };
    const leave = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      inside = Math.max(0, inside - 1);
      setOver(inside > 0);
    };
    const hold = (event: DragEvent) => holdsFiles(event) && event.preventDefault();
    const drop = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      event.preventDefault();
      inside = 0;
      setOver(false);
      taken.current([...(event.dataTransfer?.files ?? [])]);
    };
    const acts = { dragenter: enter, dragleave: leave, dragover: hold, drop } as const;
    for (const [name, act] of Object.entries(acts)) window.addEventListener(name as "drop", act);
    return () => {
      for (const [name, act] of Object.entries(acts)) window.removeEventListener(name as "drop", act);
    };
  }, []);
  return over;
}
