import type { Correction } from "../api/client";

/** What is said of elements (GlobalIds), or of a build-up, as a text: a form that somebody types into begins anew where
 * this changes, and not for what others say of anything else. */
export function saidOf(corrections: readonly Correction[], guids: readonly string[], buildUp = ""): string {
  const meant = new Set(guids);
  return JSON.stringify(
    corrections.filter((one) => {
      if ("elements" in one) return one.elements.some((guid) => meant.has(guid));
      if ("layers" in one && one.build_up) return one.build_up === buildUp;
      return "element" in one && one.element !== undefined && meant.has(one.element);
    }),
  );
}
