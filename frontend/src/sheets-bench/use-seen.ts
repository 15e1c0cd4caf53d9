import { type RefObject, useEffect, useState } from "react";

/** Whether an element is in view, or about to be. */
export function useSeen(element: RefObject<Element | null>): boolean {
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    if (!element.current) return;
    const watch = new IntersectionObserver((entries) => setSeen(entries.some((e) => e.isIntersecting)), {
      rootMargin: "0px 120px",
    });
    watch.observe(element.current);
    return () => watch.disconnect();
  }, [element]);
  return seen;
}
