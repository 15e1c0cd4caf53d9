import { X } from "lucide-react";
import { useState } from "react";
import type { Issue, IssueChanges, Sheet } from "../../api/client";
import { publish, useIssueChanges, useIssues } from "../../api/publications";
import { TextField } from "../../fields/TextField";

type Props = {
  project: number;
  sheets: Sheet[];
  onClose: () => void;
  onCompare: (sheet: IssueChanges["sheets"][number] | null) => void;
  onLook: (issued: { id: number; title: string } | null) => void;
};

/** Issues: what was released when, what has changed since, and a new one. */
export function IssuesPanel({ project, sheets, onClose, onCompare, onLook }: Props) {
  const { data } = useIssues(project);
  const [open, setOpen] = useState<number | null>(null);
  const { data: changes } = useIssueChanges(open);
  return (
    <section aria-label="Issues" className="flex h-full flex-col">
      <h2 className="flex h-8 shrink-0 items-center border-b border-base-300 px-3 font-semibold">
        <span className="flex-1">Issues</span>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label="Close the issues"
          onClick={onClose}
        >
          <X size={13} />
        </button>
      </h2>
      <div className="flex-1 overflow-y-auto">
        {data && <NewIssue key={data.next_code} project={project} sheets={sheets} code={data.next_code} />}
        {data?.issues.map((issue) => (
          <article
            key={issue.id}
            aria-label={`Issue ${issue.code}`}
            className="border-b border-base-300 px-3 py-2"
          >
            <h3 className="flex items-baseline gap-2">
              <b className="figures">{issue.code}</b>
              <span className="figures text-xs">{issue.date}</span>
              <span className="truncate">{issue.purpose}</span>
            </h3>
            <p className="text-xs opacity-85">
              {issue.sheets.length} sheets, model revision {issue.revision}
              {issue.issued_by && `, by ${issue.issued_by}`}
            </p>
            <div className="flex flex-wrap gap-1 pt-1">
              <a className="btn btn-xs" href={`/api/issues/${issue.id}/file`} download>
                PDF as issued
              </a>
              <button
                type="button"
                className="btn btn-xs"
                aria-expanded={open === issue.id}
                onClick={() => {
                  setOpen(open === issue.id ? null : issue.id);
                  onCompare(null);
                }}
              >
                Changed since
              </button>
            </div>
            {open === issue.id && <IssuedSheets issue={issue} onLook={onLook} />}
            {open === issue.id && changes && (
              <Changes issue={issue} changes={changes} onCompare={onCompare} />
            )}
          </article>
        ))}
        {data?.issues.length === 0 && (
          <p className="p-3 opacity-85">
            Nothing was issued yet. An issue keeps its sheets as they are, whatever is changed later.
          </p>
        )}
      </div>
    </section>
  );
}

function IssuedSheets({ issue, onLook }: { issue: Issue; onLook: Props["onLook"] }) {
  return (
    <ul className="flex flex-wrap gap-x-2 pt-1 text-xs">
      {issue.sheets.map((s) => (
        <li key={s.id}>
          <button
            type="button"
            className="link link-hover figures"
            title={`${s.title}, as issued`}
            onClick={() => onLook({ id: s.id, title: `${s.number} ${s.title}, as issued ${issue.code}` })}
          >
            {s.number}
          </button>
        </li>
      ))}
    </ul>
  );
}

function Changes({
  issue,
  changes,
  onCompare,
}: {
  issue: Issue;
  changes: IssueChanges;
  onCompare: Props["onCompare"];
}) {
  const some = changes.sheets.some((s) => s.state === "changed");
  return (
    <div className="pt-1">
      <ul className="flex flex-col gap-1 text-xs">
        {changes.sheets.map((s) => (
          <li key={`${s.sheet_id} ${s.state}`}>
            <button
              type="button"
              className="text-left enabled:cursor-pointer enabled:hover:underline"
              disabled={s.state !== "changed"}
              onClick={() => onCompare(s)}
            >
              <span className="figures">{s.number}</span> {s.title}: <b>{s.state}</b>
            </button>
            {s.says.map((said) => (
              <span key={said} className="block pl-3">
                {said}
              </span>
            ))}
          </li>
        ))}
      </ul>
      {some && (
        <a className="btn btn-xs mt-1" href={`/api/issues/${issue.id}/changes.pdf`} download>
          Changes as PDF
        </a>
      )}
    </div>
  );
}

function NewIssue({ project, sheets, code }: { project: number; sheets: Sheet[]; code: string }) {
  const today = new Date().toLocaleDateString("sv"); // year-month-day
  const [wanted, setWanted] = useState({ code, date: today, purpose: "", issued_by: "" });
  const [left, setLeft] = useState<number[]>([]);
  const chosen = sheets.filter((s) => !left.includes(s.id)).map((s) => s.id);
  const put = (part: Partial<typeof wanted>) => setWanted({ ...wanted, ...part });
  return (
    <details className="border-b border-base-300 px-3 py-2">
      <summary className="cursor-pointer font-semibold">Issue sheets</summary>
      <div className="flex flex-col gap-1.5 pt-2">
        <TextField label="Code" value={wanted.code} figures onEnter={(said) => put({ code: said })} />
        <label className="flex items-center gap-2">
          <span className="w-16 shrink-0 opacity-80">Date</span>
          <input
            type="date"
            className="input input-xs w-full"
            value={wanted.date}
            onChange={(event) => event.target.value && put({ date: event.target.value })}
          />
        </label>
        <TextField
          label="Purpose"
          value={wanted.purpose}
          mayBeEmpty
          placeholder="For comment, permit, tender …"
          onEnter={(purpose) => put({ purpose })}
        />
        <TextField label="By" value={wanted.issued_by} mayBeEmpty onEnter={(by) => put({ issued_by: by })} />
        <ul className="max-h-40 overflow-y-auto">
          {sheets.map((s) => (
            <li key={s.id}>
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  className="checkbox checkbox-xs"
                  checked={!left.includes(s.id)}
                  onChange={() =>
                    setLeft(left.includes(s.id) ? left.filter((x) => x !== s.id) : [...left, s.id])
                  }
                />
                <span className="figures">{s.number}</span>
                <span className="truncate">{s.title}</span>
              </label>
            </li>
          ))}
        </ul>
        <button
          type="button"
          className="btn btn-xs btn-primary"
          disabled={chosen.length === 0}
          onClick={() => publish(project, { sheets: chosen, issue: wanted })}
        >
          Issue {chosen.length} sheets as {wanted.code}
        </button>
      </div>
    </details>
  );
}
