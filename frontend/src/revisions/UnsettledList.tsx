import { useAnnotate } from "../annotating/state";
import { settleAnchors, takeBack, useUnsettled } from "../api/annotations";
import type { Settling, Unsettled } from "../api/client";
import { keys, queryClient, report } from "../api/queries";
import { useBench } from "../desk/drawings-state";
import { useLook } from "../drawing/look";
import type { Frame } from "../drawing/screen-form";
import { MovedTogether } from "./MovedTogether";
import { accepting, movedTogether } from "./moved-alike";

const AROUND = 25; // mm on paper shown about one

/** What is near or lost since the model changed, with a way to settle each, or all that are near at once. */
export function UnsettledList({ project, onGo }: { project: number; onGo: () => void }) {
  const { data: unsettled = [] } = useUnsettled(project, true);
  const choose = useBench((s) => s.choose);
  const look = useLook((s) => s.lookAt);
  const settle = async (which: Unsettled[], how: Settling["how"] = "accept") => {
    try {
      queryClient.setQueryData(keys.unsettled(project), await settleAnchors(project, accepting(which, how)));
    } catch (error) {
      report(error);
    }
  };
  const back = async (one: Unsettled) => {
    try {
      await takeBack(one.drawing_id, [one.id]);
    } catch (error) {
      report(error);
    }
  };
  const go = (one: Unsettled) => {
    choose(project, one.drawing_id);
    if (one.what === "annotation") useAnnotate.getState().choose({ drawing: one.drawing_id, ids: [one.id] });
    if (one.box) {
      const [left, base, right, top] = one.box as Frame;
      look(`drawing ${one.drawing_id}`, [left - AROUND, base - AROUND, right + AROUND, top + AROUND]);
    }
    onGo();
  };
  const near = unsettled.filter((a) => a.state === "near" && a.what !== "drawing");
  const together = movedTogether(near);
  return (
    <section aria-label="Near and lost" className="flex flex-col gap-1.5 text-xs">
      <h3 className="font-semibold">
        {unsettled.length === 0
          ? "Everything is where the model has it."
          : `${unsettled.length} to be settled`}
      </h3>
      {near.length > 0 && (
        <button type="button" className="btn btn-xs self-start" onClick={() => settle(near)}>
          Accept all {near.length} that moved with the model
        </button>
      )}
      {together.length > 0 && (
        <ul aria-label="Moved together" className="flex flex-col gap-1">
          {together.map((t) => (
            <MovedTogether
              key={t.key}
              project={project}
              together={t}
              onGo={go}
              onAccept={() => settle(t.of)}
            />
          ))}
        </ul>
      )}
      <ul className="flex flex-col gap-1">
        {unsettled.map((one) => (
          <li key={`${one.what} ${one.id}`} className="rounded border border-base-300 bg-base-100 p-1.5">
            <button type="button" className="w-full text-left" onClick={() => go(one)} title="Go there">
              <b className={one.state === "lost" ? "text-error" : "text-warning"}>
                {one.state === "lost" ? "✕ lost" : one.state === "near" ? "≈ near" : "! words"}
              </b>{" "}
              {one.said}
              <span className="block opacity-75">
                {one.drawing}: {one.reason}
              </span>
            </button>
            {one.what !== "drawing" && (
              <div className="mt-1 flex flex-wrap gap-1">
                {one.state !== "exact" &&
                  (one.state === "near" || one.can_guess || one.what !== "annotation") && (
                    <button type="button" className="btn btn-xs" onClick={() => settle([one])}>
                      {one.state === "lost" && one.can_guess ? "Take the likely new place" : "Accept"}
                    </button>
                  )}
                {one.what === "annotation" && one.state === "lost" && (
                  <button type="button" className="btn btn-xs" onClick={() => settle([one], "free")}>
                    Leave it here, untied
                  </button>
                )}
                {one.what === "touch-up" && one.state === "lost" && (
                  <button type="button" className="btn btn-xs" onClick={() => back(one)}>
                    Take it back
                  </button>
                )}
              </div>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
