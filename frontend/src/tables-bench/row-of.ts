/** What a row of a table is of, by its target: an element's GlobalId, or the name of the build-up of a layer ("layer:",
 * the name, ":" and the layer's number); both empty for anything else. */
export function rowOf(target: string): { element: string; buildUp: string } {
  const [kind, called] = [target.slice(0, target.indexOf(":")), target.slice(target.indexOf(":") + 1)];
  return {
    element: kind === "element" ? called : "",
    buildUp: kind === "layer" ? called.slice(0, called.lastIndexOf(":")) : "",
  };
}
