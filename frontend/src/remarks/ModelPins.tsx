import { useRemarks } from "../api/remarks";
import { INK } from "./Pins";
import { chooseRemark, useRemarking } from "./pinning";

/** The remarks of a project at their places in the model, but for those that are done. */
export function ModelPins({ project }: { project: number }) {
  const { data: remarks = [] } = useRemarks(project);
  const chosen = useRemarking((s) => s.chosen);
  return remarks
    .filter((one) => one.point !== null && (one.state !== "done" || one.id === chosen))
    .map((one) => (
      <button
        key={one.id}
        type="button"
        data-at={one.point?.join(",")}
        className="pointer-events-auto absolute top-0 left-0 min-w-4 cursor-pointer px-1 text-[10px] leading-4 font-semibold text-base-100"
        style={{
          background: INK[one.state],
          outline: one.id === chosen ? "2px solid var(--color-base-content)" : "",
        }}
        aria-label={`Remark ${one.number}, ${one.state}`}
        title={one.text}
        onClick={() => chooseRemark(one.id)}
      >
        {one.number}
      </button>
    ));
}
