import { useState } from "react";
import type { SharedLink } from "../api/client";
import { makeLink, useLinks, withdrawLink } from "../api/people";
import { useIssues } from "../api/publications";
import { useSheets } from "../api/queries";
import { addressOf, day } from "./people-words";
import { Told } from "./Told";

/** Links by which people without an account look at an issue, or at chosen sheets. */
export function LinksPart({ project }: { project: number }) {
  const { data: links = [] } = useLinks(project, true);
  const [made, setMade] = useState<SharedLink | null>(null);
  return (
    <section aria-label="Links" className="flex flex-col gap-2">
      <h2 className="font-semibold">Links for people without an account</h2>
      <NewLink project={project} onMade={setMade} />
      {made && (
        <Told
          label={`Send this address to whom it is for${made.with_word ? ", and tell the word in another way" : ""}. It is shown only now.`}
          text={addressOf("link", made.token)}
        />
      )}
      <ul aria-label="Links" className="flex flex-col gap-1 text-sm">
        {links.map((one) => (
          <li key={one.id} className="flex items-center gap-2">
            <span className={standing(one) ? "" : "line-through opacity-75"}>
              <b className="font-semibold">{one.name}</b>:{" "}
              {one.issue === null ? `${one.sheets.length} sheets as they are` : "an issue"}, until{" "}
              {day(one.ends_at)}
              {one.with_word && ", with a word"}, by {one.by}
            </span>
            {standing(one) && (
              <button
                type="button"
                className="btn btn-xs"
                aria-label={`Withdraw ${one.name}`}
                onClick={() => withdrawLink(project, one.id)}
              >
                Withdraw
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

const standing = (one: SharedLink) => !one.withdrawn && new Date(one.ends_at) > new Date();

function NewLink({ project, onMade }: { project: number; onMade: (made: SharedLink | null) => void }) {
  const { data: sheets = [] } = useSheets(project);
  const { data: issued } = useIssues(project);
  const [name, setName] = useState("");
  const [to, setTo] = useState("sheets");
  const [days, setDays] = useState(30);
  const [word, setWord] = useState("");
  const [chosen, setChosen] = useState<number[]>([]);
  const ofSheets = to === "sheets";
  const make = async () => {
    const issue = ofSheets ? null : Number(to);
    onMade(await makeLink(project, { name, issue, sheets: ofSheets ? chosen : [], days, word }));
    setName("");
    setWord("");
  };
  return (
    <form
      className="flex flex-wrap items-end gap-2 text-sm"
      onSubmit={(event) => {
        event.preventDefault();
        void make();
      }}
    >
      <label className="flex flex-col gap-1">
        For whom
        <input
          required
          className="input input-sm w-48"
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <label className="flex flex-col gap-1">
        Leads to
        <select className="select select-sm w-52" value={to} onChange={(event) => setTo(event.target.value)}>
          <option value="sheets">chosen sheets, as they are</option>
          {issued?.issues.map((issue) => (
            <option key={issue.id} value={issue.id}>
              issue {issue.code} of {issue.date}
            </option>
          ))}
        </select>
      </label>
      <label className="flex flex-col gap-1">
        Days
        <input
          type="number"
          className="input input-sm figures w-20"
          min={1}
          max={365}
          value={days}
          onChange={(event) => setDays(Number(event.target.value))}
        />
      </label>
      <label className="flex flex-col gap-1">
        A word to be said first
        <input
          className="input input-sm w-40"
          maxLength={100}
          placeholder="none"
          value={word}
          onChange={(event) => setWord(event.target.value)}
        />
      </label>
      <button type="submit" className="btn btn-sm" disabled={ofSheets && chosen.length === 0}>
        Make the link
      </button>
      {ofSheets && (
        <fieldset className="flex w-full flex-wrap gap-x-4 gap-y-1" aria-label="Sheets of the link">
          {sheets.map((sheet) => (
            <label key={sheet.id} className="flex items-center gap-1.5">
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={chosen.includes(sheet.id)}
                onChange={(event) =>
                  setChosen(
                    event.target.checked ? [...chosen, sheet.id] : chosen.filter((one) => one !== sheet.id),
                  )
                }
              />
              <span className="figures">{sheet.number}</span> {sheet.title}
            </label>
          ))}
        </fieldset>
      )}
    </form>
  );
}
