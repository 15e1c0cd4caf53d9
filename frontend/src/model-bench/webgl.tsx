/** Whether this browser shows anything in three dimensions. */
export const HAS_WEBGL = (() => {
  try {
    return document.createElement("canvas").getContext("webgl2") !== null;
  } catch {
    return false;
  }
})();

/** What stands where the building would. */
export function NoWebGl() {
  return (
    <p role="alert" className="p-8">
      This browser shows nothing in three dimensions (it has no WebGL 2). The lists and typed values beside
      this still work, and so do all other benches.
    </p>
  );
}
