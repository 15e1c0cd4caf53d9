import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, type LinkSeen, unwrap } from "../api/client";
import { signOut } from "../api/people";
import { DrawingCanvas } from "../drawing/canvas/DrawingCanvas";
import { parseView } from "../drawing/screen-form";
import { day } from "./people-words";

type Linked = LinkSeen["sheets"][number];

/** What a link leads to: its sheets, one at a time, and their files. */
export function LinkedSheets({ link }: { link: LinkSeen }) {
  const [at, setAt] = useState(0);
  const sheet = link.sheets[at];
  return (
    <div className="flex h-full flex-col bg-base-100 text-base-content">
      <header className="flex h-10 shrink-0 items-center gap-3 border-b border-base-300 bg-base-200 px-3">
        <img src="/mark.svg" alt="" className="size-6" />
        <h1 className="min-w-0 truncate font-semibold">{link.project}</h1>
        <span className="min-w-0 flex-1 truncate text-sm opacity-85">
          {link.name}, until {day(link.ends_at)}
        </span>
        {link.issue !== null && (
          <a className="btn btn-xs" href={`/api/issues/${link.issue}/file`} download>
            All as a PDF
          </a>
        )}
        <button type="button" className="btn btn-ghost btn-xs" onClick={signOut}>
          Leave
        </button>
      </header>
      <div className="grid min-h-0 flex-1 grid-cols-[220px_minmax(0,1fr)]">
        <nav aria-label="Sheets" className="overflow-y-auto border-r border-base-300 py-1">
          <ul>
            {link.sheets.map((one, k) => (
              <li key={one.id}>
                <button
                  type="button"
                  aria-current={k === at ? "true" : undefined}
                  className={`flex w-full gap-2 px-3 py-1 text-left hover:bg-base-200 ${k === at ? "bg-base-200 font-semibold" : ""}`}
                  onClick={() => setAt(k)}
                >
                  <span className="figures shrink-0">{one.number}</span>
                  <span className="min-w-0 truncate">{one.title}</span>
                </button>
              </li>
            ))}
          </ul>
        </nav>
        {sheet ? <Shown key={sheet.id} sheet={sheet} /> : <p className="p-6">No sheet is here any more.</p>}
      </div>
    </div>
  );
}

function Shown({ sheet }: { sheet: Linked }) {
  const name = `${sheet.number} ${sheet.title}`;
  const { data: view, error } = useQuery({
    queryKey: ["linked sheet", sheet.issued, sheet.id],
    queryFn: async () => {
      const request = { params: { path: { id: sheet.id } }, parseAs: "arrayBuffer" as const };
      const answer = sheet.issued
        ? client.GET("/api/issued-sheets/{id}/view", request)
        : client.GET("/api/sheets/{id}/view", request);
      return parseView(await unwrap<ArrayBuffer>(answer));
    },
  });
  const file = sheet.issued ? `/api/issued-sheets/${sheet.id}/file` : `/api/sheets/${sheet.id}/export.pdf`;
  return (
    <main aria-label={name} className="flex min-h-0 flex-col">
      <header className="flex h-8 shrink-0 items-center gap-2 border-b border-base-300 px-3">
        <h2 className="min-w-0 flex-1 truncate font-semibold">{name}</h2>
        <a className="btn btn-xs" href={file} download>
          This sheet as a PDF
        </a>
      </header>
      {error && (
        <p role="alert" className="alert alert-error m-3">
          {error.message}
        </p>
      )}
      <div className="min-h-0 flex-1">
        <DrawingCanvas
          name={name}
          cameraKey={`linked ${sheet.issued} ${sheet.id}`}
          view={view ?? null}
          page={view?.frame}
          onDesk
        />
      </div>
    </main>
  );
}
