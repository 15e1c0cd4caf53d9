/** A target in its two parts: what kind of thing it names, and how that is called. */
export const namedBy = (target: string): [kind: string, called: string] => {
  const at = target.indexOf(":");
  return [target.slice(0, at), target.slice(at + 1)];
};

/** What a row of a table is of, by its target: an element's GlobalId, or the name of the build-up of a layer ("layer:",
 * the name, ":" and the layer's number); both empty for anything else. */
export function rowOf(target: string): { element: string; buildUp: string } {
  const [kind, called] = namedBy(target);
  return {
    element: kind === "element" ? called : "",
    buildUp: kind === "layer" ? called.slice(0, called.lastIndexOf(":")) : "",
  };
}
