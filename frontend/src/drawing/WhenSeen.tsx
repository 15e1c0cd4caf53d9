import { type ReactNode, useEffect, useRef, useState } from "react";

/** Shows what is in it once it has come into view: small pictures far down a list are not drawn before. */
export function WhenSeen({ children }: { children: ReactNode }) {
  const holder = useRef<HTMLSpanElement>(null);
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    if (!holder.current) return;
    const watcher = new IntersectionObserver((entries) => {
      if (entries.some((e) => e.isIntersecting)) setSeen(true);
    });
    watcher.observe(holder.current);
    return () => watcher.disconnect();
  }, []);
  return (
    <span ref={holder} className="flex h-full w-full items-center justify-center">
      {seen && children}
    </span>
  );
}
