import type { ReactNode } from "react";

/** A titled group of particulars. */
export function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <fieldset className="flex min-w-0 flex-col gap-1.5 border-b border-base-300 px-3 py-2">
      <legend className="float-left mb-0.5 w-full text-[11px] font-semibold tracking-wide uppercase opacity-85">
        {title}
      </legend>
      {children}
    </fieldset>
  );
}
