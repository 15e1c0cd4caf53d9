import { Columns2, X } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { Remark, RemarkState } from "../api/client";
import { answerRemark, deleteRemark, editRemark } from "../api/remarks";
import { makeRoom, useRemarking } from "./pinning";

const STATES: Record<RemarkState, string> = {
  open: "badge-primary",
  answered: "badge-secondary",
  done: "badge-neutral",
};

/** A remark with its thread; a click leads to its place. */
export function RemarkCard({
  project,
  remark,
  chosen,
}: {
  project: number;
  remark: Remark;
  chosen: boolean;
}) {
  const [text, setText] = useState("");
  const card = useRef<HTMLLIElement>(null);
  const navigate = useNavigate();
  useEffect(() => {
    if (chosen) card.current?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  const go = () => {
    useRemarking.setState({ chosen: remark.id });
    if (!remark.here) return;
    navigate(placeOf(project, remark));
  };
  const compare = () => {
    makeRoom(remark.id);
    navigate(
      `/projects/${project}/sheets${remark.sheet === null ? "" : `/${remark.sheet}`}?remark=${remark.id}`,
    );
  };
  const say = async (state: RemarkState) => {
    if (await answerRemark(project, remark.id, text, state)) setText("");
  };
  return (
    <li
      ref={card}
      className={`flex flex-col gap-1 rounded border bg-base-100 p-2 text-sm ${chosen ? "border-primary" : "border-base-300"}`}
    >
      <span className="flex items-center gap-2">
        <button type="button" className="link link-hover min-w-0 truncate text-left" onClick={go}>
          <b className="figures">{remark.number}</b> {remark.where}
        </button>
        <span className="flex-1" />
        <span className={`badge badge-xs ${STATES[remark.state]}`}>{remark.state}</span>
        {remark.own && (
          <button
            type="button"
            className="btn btn-ghost btn-xs btn-square"
            aria-label={`Delete remark ${remark.number}`}
            onClick={() => deleteRemark(project, remark.id)}
          >
            <X size={12} />
          </button>
        )}
      </span>
      <p className="whitespace-pre-wrap">{remark.text}</p>
      <p className="text-xs opacity-80">
        {remark.author}
        {remark.to && `, to ${remark.to}`}
        {remark.due && `, until ${remark.due}`}
      </p>
      {remark.picture && (
        <a href={`/api/pictures/${remark.picture}`} target="_blank" rel="noreferrer">
          <img
            src={`/api/pictures/${remark.picture}`}
            alt={`Added to remark ${remark.number}`}
            className="max-h-40 max-w-full self-start rounded border border-base-300"
          />
        </a>
      )}
      {remark.answers.map((one) => (
        <div key={one.at} className="border-l-2 border-base-300 pl-2">
          {one.text && <p className="whitespace-pre-wrap">{one.text}</p>}
          <p className="text-xs opacity-80">
            {one.author}: {one.state}
          </p>
        </div>
      ))}
      {chosen && (remark.sheet !== null || remark.drawing !== null) && (
        <button type="button" className="btn btn-xs self-start" onClick={compare}>
          <Columns2 size={12} /> What became of it
        </button>
      )}
      {chosen && remark.state !== "done" && (
        <>
          <textarea
            className="textarea textarea-xs w-full"
            aria-label={`Answer to remark ${remark.number}`}
            rows={2}
            maxLength={4000}
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
          <span className="flex gap-2">
            <button
              type="button"
              className="btn btn-xs"
              disabled={text.trim() === ""}
              onClick={() => say("answered")}
            >
              Answer
            </button>
            <button
              type="button"
              className="btn btn-xs"
              onClick={() => (text.trim() ? say("done") : editRemark(project, remark, { state: "done" }))}
            >
              Done
            </button>
          </span>
        </>
      )}
      {chosen && remark.state === "done" && (
        <button
          type="button"
          className="btn btn-xs self-start"
          onClick={() => editRemark(project, remark, { state: "open" })}
        >
          Open it again
        </button>
      )}
    </li>
  );
}

/** Where a remark is looked at: on its sheet, in its drawing, or in the model. */
function placeOf(project: number, { sheet, drawing }: Remark): string {
  if (sheet !== null) return `/projects/${project}/sheets/${sheet}`;
  return drawing === null ? `/projects/${project}/model` : `/projects/${project}?drawing=${drawing}`;
}
