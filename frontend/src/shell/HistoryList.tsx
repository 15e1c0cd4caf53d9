import { useQuery } from "@tanstack/react-query";
import { History as Clock } from "lucide-react";
import { useState } from "react";
import { client, type History, type Step, unwrap } from "../api/client";
import { keys, report } from "../api/queries";
import { useCommand } from "./commands";

/** The steps of a project; a click goes back, or forward, to one. */
export function HistoryList({ project }: { project: number }) {
  const [open, setOpen] = useState(false);
  useCommand({ name: "History", group: "Project", keys: "h", run: () => setOpen(!open) });
  return (
    <div className="relative">
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square"
        aria-label="History"
        aria-expanded={open}
        title="History (H)"
        onClick={() => setOpen(!open)}
      >
        <Clock size={15} />
      </button>
      {open && <Steps project={project} onDone={() => setOpen(false)} />}
    </div>
  );
}

function Steps({ project, onDone }: { project: number; onDone: () => void }) {
  const path = { params: { path: { id: project } } };
  const { data: steps } = useQuery({
    queryKey: keys.history(project),
    staleTime: 0,
    queryFn: () => unwrap<Step[]>(client.GET("/api/projects/{id}/history", path)),
  });
  const goTo = async (step: Step) => {
    try {
      await unwrap<History>(client.POST("/api/projects/{id}/history", { ...path, body: { act: step.act } }));
    } catch (error) {
      report(error);
    }
  };
  return (
    <section
      aria-label="Steps"
      className="absolute top-8 right-0 z-30 flex max-h-96 w-80 flex-col rounded border border-base-300 bg-base-100 shadow-lg"
    >
      <header className="flex items-center border-b border-base-300 px-3 py-1.5">
        <h2 className="flex-1 font-semibold">History</h2>
        <button type="button" className="btn btn-ghost btn-xs" onClick={onDone}>
          Close
        </button>
      </header>
      <ol className="overflow-y-auto py-1">
        {steps?.map((step) => (
          <li key={step.act}>
            <button
              type="button"
              className={`w-full cursor-pointer px-3 py-1 text-left hover:bg-base-300 ${step.undone ? "italic opacity-60" : ""}`}
              title={step.undone ? "Do this and all before it again" : "Go back to this step"}
              onClick={() => goTo(step)}
            >
              <span className="flex justify-between gap-2">
                <span className="first-letter:uppercase">{step.label}</span>
                <time className="figures shrink-0 text-[11px] opacity-85" dateTime={step.at}>
                  {new Date(step.at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" })}
                </time>
              </span>
              <span className="block truncate text-xs opacity-85">
                {[step.about, step.author].filter(Boolean).join(" · ") || "\u00a0"}
              </span>
            </button>
          </li>
        ))}
        {steps?.length === 0 && <li className="px-3 py-2 opacity-85">Nothing was changed yet.</li>}
      </ol>
    </section>
  );
}
