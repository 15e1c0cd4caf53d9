/** What is chosen after one more of a list was clicked: it alone comes or goes; `from` another one, all between. */
export function taken(
  names: readonly string[],
  chosen: readonly string[],
  name: string,
  from: string | null,
): string[] {
  if (from !== null && names.includes(from)) {
    const [a, b] = [names.indexOf(from), names.indexOf(name)];
    const between = names.slice(Math.min(a, b), Math.max(a, b) + 1);
    return [...new Set([...chosen, ...between])];
  }
  return chosen.includes(name) ? chosen.filter((one) => one !== name) : [...chosen, name];
}
