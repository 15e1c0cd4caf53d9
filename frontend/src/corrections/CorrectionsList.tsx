import { Undo2 } from "lucide-react";
import { Link } from "react-router";
import type { CorrectionState, Project } from "../api/client";
import { correct, useCorrections } from "../api/corrections";
import { useLengths } from "../fields/lengths";
import { thick } from "./layers";

const SAYS: Record<CorrectionState["state"], (one: CorrectionState) => string> = {
  open: (one) => `${one.elements} drawn so`,
  "in the file": () => "the file has it so now",
  lost: () => "! not in the model any more",
  refused: (one) => `! can't be: ${one.refused[0]?.why ?? ""}`,
};

/** What the project corrects in its model, with what became of each. */
export function CorrectionsList({ project }: { project: Project }) {
  const { data = [] } = useCorrections(project.id);
  const { say } = useLengths();
  if (data.length === 0) return null;
  return (
    <section className="flex flex-col gap-1 text-xs">
      <h3 className="font-semibold">
        {data.length === 1 ? "One correction" : `${data.length} corrections`} to the model
      </h3>
      <ul aria-label="Corrections" className="flex flex-col gap-1">
        {data.map((one) => {
          const { element = "", build_up = "", layers, reason } = one.correction;
          const name = one.name || "an element that is gone";
          return (
            <li
              key={`${element} ${build_up}`}
              className="rounded border border-base-300 bg-base-100 px-2 py-1"
            >
              <span className="flex items-center gap-1">
                <b className="min-w-0 flex-1 truncate">{build_up ? `All of “${name}”` : name}</b>
                {element && one.state !== "lost" && (
                  <Link
                    className="link"
                    to={`/projects/${project.id}/model?element=${encodeURIComponent(element)}`}
                  >
                    where
                  </Link>
                )}
                <button
                  type="button"
                  className="btn btn-ghost btn-xs btn-square"
                  aria-label={`As the file has ${name}`}
                  title="As the file has it"
                  onClick={() => correct(project, { element, build_up }, null)}
                >
                  <Undo2 size={12} />
                </button>
              </span>
              <span className="block opacity-85">
                {layers.length} {layers.length === 1 ? "layer" : "layers"}, {say(thick(layers))} ·{" "}
                {SAYS[one.state](one)}
                {one.state === "open" &&
                  one.refused[0] &&
                  `; ${one.refused[0].elements} not: ${one.refused[0].why}`}
              </span>
              {reason && <span className="block opacity-85">Because: {reason}</span>}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
