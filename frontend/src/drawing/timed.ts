/** Does something, and says how long it took to whoever watches this page's measures (User Timing, W3C): they stand in a
 * browser's tools beside the requests, and are not kept. */
export function timed<T>(name: string, act: () => T): T {
  const start = performance.now();
  try {
    return act();
  } finally {
    performance.measure(name, { start });
    performance.clearMeasures(name);
  }
}
