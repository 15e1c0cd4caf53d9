import { Undo2 } from "lucide-react";
import { Link } from "react-router";
import type { Correction, CorrectionState, Project } from "../api/client";
import { correct, useCorrections } from "../api/corrections";
import { useLengths } from "../fields/lengths";
import { thick } from "./layers";

const SAYS: Record<CorrectionState["state"], (one: CorrectionState) => string> = {
  open: (one) => `${one.elements} drawn so`,
  asked: (one) => `! the file has since changed ${one.changed} of ${one.elements}; drawn as said here`,
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
          const { correction, where } = one;
          const name = one.name || "an element that is gone";
          return (
            <li key={keyOf(correction)} className="rounded border border-base-300 bg-base-100 px-2 py-1">
              <span className="flex items-center gap-1">
                <b className="min-w-0 flex-1 truncate" title={name}>
                  {"layers" in correction && correction.build_up ? `All of “${name}”` : name}
                </b>
                {where && !("left_out" in correction) && (
                  <Link
                    className="link"
                    to={`/projects/${project.id}/model?element=${encodeURIComponent(where)}`}
                  >
                    where
                  </Link>
                )}
                <button
                  type="button"
                  className="btn btn-ghost btn-xs btn-square"
                  aria-label={`As the file has ${name}`}
                  title="As the file has it"
                  onClick={() => correct(project, correction, null)}
                >
                  <Undo2 size={12} />
                </button>
              </span>
              <span className="block opacity-85">
                {what(correction, say)} · {SAYS[one.state](one)}
                {(one.state === "open" || one.state === "asked") &&
                  one.refused[0] &&
                  `; ${one.refused[0].elements} not: ${one.refused[0].why}`}
              </span>
              {one.state === "asked" && (
                <button
                  type="button"
                  className="link"
                  onClick={() => correct(project, correction, saidAnew(correction))}
                >
                  {"by" in correction ? "Move from where the file has it now" : "Say it anew"}
                </button>
              )}
              {correction.reason && <span className="block opacity-85">Because: {correction.reason}</span>}
              {correction.author && <span className="block opacity-85">{correction.author}</span>}
            </li>
          );
        })}
      </ul>
    </section>
  );
}

/** What is corrected, in a few words. */
function what(correction: Correction, say: (metres: number) => string): string {
  if ("layers" in correction) {
    const count = correction.layers.length;
    return `${count} ${count === 1 ? "layer" : "layers"}, ${say(thick(correction.layers))}`;
  }
  if ("left_out" in correction) return "taken out";
  const [x = 0, y = 0, z = 0] = correction.by ?? [];
  const far = [x && `${say(x)} along x`, y && `${say(y)} along y`, z && `${say(z)} up`];
  return [...far, correction.turn && `turned by ${correction.turn}°`].filter(Boolean).join(", ");
}

/** A correction that is said of the file as it is now. */
const saidAnew = (correction: Correction): Correction =>
  "layers" in correction
    ? { ...correction, instead_of: [] }
    : "by" in correction
      ? { ...correction, stood: [] }
      : correction;

const keyOf = (correction: Correction): string =>
  "layers" in correction
    ? `layers ${correction.element} ${correction.build_up}`
    : `${"by" in correction ? "place" : "presence"} ${correction.elements.join(" ")}`;
