const numbers = new WeakMap<object, number>();
let last = 0;

/** A number for a thing, another one for another thing. */
export function numberOf(thing: object): number {
  const known = numbers.get(thing) ?? ++last;
  numbers.set(thing, known);
  return known;
}
