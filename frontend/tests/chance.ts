/** The same numbers in every run, by Lehmer's generator (Park and Miller 1988). */
export function chance(seed: number) {
  let state = seed;
  const next = () => {
    state = (state * 48271) % 2147483647;
    return state / 2147483647;
  };
  return {
    within: (low: number, high: number) => low + next() * (high - low),
    one: <T>(of: readonly T[]): T => of[Math.floor(next() * of.length)] as T,
  };
}
