import type { Solid } from "../../api/client";

/** What a model that is larger than what a browser holds shows instead. */
export function TooLarge({ solid }: { solid: Solid }) {
  const missing = solid.parts.reduce((sum, p) => sum + p.missing, 0);
  return (
    missing > 0 && (
      <p role="status" className="alert alert-warning m-2 py-1 text-xs">
        This model is larger than what a browser holds: {missing.toLocaleString("en")} of its smaller elements
        are not shown here. A storey shown alone has its own; drawings and saved bodies have all of them.
      </p>
    )
  );
}
