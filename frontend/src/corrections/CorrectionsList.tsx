import { Download, Undo2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import type { Correction, CorrectionState, Project } from "../api/client";
import {
  correct,
  pictureAt,
  readAnswers,
  saveCorrectedFiles,
  sayAsked,
  topicsAt,
  useCorrections,
} from "../api/corrections";
import { useLengths } from "../fields/lengths";
import { ReadFile } from "../fields/ReadFile";
import { keyOf, saidAnew, what } from "./words";

const SAYS: Record<CorrectionState["state"], (one: CorrectionState) => string> = {
  open: (one) => `${one.elements} drawn so`,
  asked: (one) => `${one.elements} drawn so; asked for on ${one.correction.asked}`,
  answered: (one) => `${one.elements} drawn so; answered: ${one.correction.answer?.status}`,
  refused: (one) => `! ${one.correction.answer?.status}; ${one.elements} still drawn so`,
  changed: (one) => `! the file has since changed ${one.changed} of ${one.elements}; drawn as said here`,
  "in the file": () => "the file has it so now",
  lost: () => "! not in the model any more",
  impossible: (one) => `! can't be: ${one.refused[0]?.why ?? ""}`,
};

/** What the project corrects in its model, with what became of each. */
export function CorrectionsList({ project }: { project: Project }) {
  const { data = [] } = useCorrections(project.id);
  const { say } = useLengths();
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  if (data.length === 0) return null;
  const drawn = data.filter((one) => one.elements > 0).map((one) => one.correction);
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
                {one.elements > 0 && data.length > 1 && (
                  <input
                    type="checkbox"
                    className="checkbox checkbox-xs"
                    aria-label={`Send ${name}`}
                    title="Whether it goes into what is asked for, and into IFC files"
                    checked={!left.has(correction.topic)}
                    onChange={() => setLeft(toggled(left, correction.topic))}
                  />
                )}
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
              {one.elements > 0 && (
                <img
                  src={pictureAt(project, correction)}
                  alt={`What is corrected of ${name}: what goes dashed, what comes in colour`}
                  loading="lazy"
                  className="my-1 max-h-32 w-full rounded bg-white object-contain"
                />
              )}
              <span className="block opacity-85">
                {what(correction, say)} · {SAYS[one.state](one)}
                {one.elements > 0 &&
                  one.refused[0] &&
                  `; ${one.refused[0].elements} not: ${one.refused[0].why}`}
              </span>
              {one.state === "changed" && (
                <button
                  type="button"
                  className="link"
                  onClick={() => correct(project, correction, saidAnew(correction))}
                >
                  {"by" in correction ? "Move from where the file has it now" : "Say it anew"}
                </button>
              )}
              {correction.reason && <span className="block opacity-85">Because: {correction.reason}</span>}
              {correction.answer?.remarks?.map((said) => (
                <q key={said} className="block opacity-85">
                  {said}
                </q>
              ))}
              {correction.author && <span className="block opacity-85">{correction.author}</span>}
            </li>
          );
        })}
      </ul>
      <Asking project={project} all={drawn} those={drawn.filter((one) => !left.has(one.topic))} />
    </section>
  );
}

const toggled = (set: ReadonlySet<string>, one: string): ReadonlySet<string> =>
  set.has(one) ? new Set([...set].filter((other) => other !== one)) : new Set([...set, one]);

type AskingProps = { project: Project; all: readonly Correction[]; those: readonly Correction[] };

/** Corrections sent to those whose model it is, and what they answer. */
function Asking({ project, all, those }: AskingProps) {
  const only = those.length < all.length ? those.map((one) => one.topic) : [];
  const read = async (file: File) => {
    const found = await readAnswers(project.id, file);
    if (found) toast(`${found.answered} answered; ${found.others} are of something else.`);
  };
  return (
    <div className="flex flex-wrap items-center gap-1">
      {those.length > 0 &&
        (["3.0", "2.1"] as const).map((version) => (
          <a
            key={version}
            className="btn btn-xs"
            href={topicsAt(project.id, version, only)}
            download
            title="Topics with pictures and viewpoints, for those whose model it is"
            onClick={() => sayAsked(project, those)}
          >
            <Download size={12} /> Ask for them: BCF {version}
          </a>
        ))}
      {those.length > 0 && (
        <button
          type="button"
          className="btn btn-xs"
          title="The files of the model with what is corrected; everything else as it is in them"
          onClick={() => saveCorrectedFiles(project.id, only)}
        >
          <Download size={12} /> As IFC files
        </button>
      )}
      <ReadFile words="Read answers" label="File of answers" accept=".bcf,.bcfzip" onFile={read} />
    </div>
  );
}
