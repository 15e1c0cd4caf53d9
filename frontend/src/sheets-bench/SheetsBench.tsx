import { FileClock, Plus } from "lucide-react";
import { useEffect, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import type { IssueChanges, Project, Settings, Sheet } from "../api/client";
import { useDrawings, useSheets } from "../api/queries";
import { useRemarks } from "../api/remarks";
import { useSheetActs } from "../api/sheet-acts";
import { useSheetState, type WorkInPlace } from "../desk/sheet-state";
import { chooseRemark } from "../remarks/pinning";
import { DesignCanvas } from "./design/DesignCanvas";
import { IssuesPanel } from "./panels/IssuesPanel";
import { OutputMenu } from "./panels/OutputMenu";
import { SheetParticulars } from "./panels/SheetParticulars";
import { Comparison } from "./paper/Comparison";
import { SheetCanvas } from "./paper/SheetCanvas";
import { WhatBecame } from "./paper/WhatBecame";
import { Register } from "./register/Register";
import { RegisterTable } from "./register/RegisterTable";

type Looked = { id: number; title: string; changes: boolean };

type Props = {
  project: Project;
  settings: Settings;
  /** How a drawing is worked on where it stands on its sheet. */
  inPlace: WorkInPlace;
};

/** The sheets bench: the register, the sheet large, and its particulars or the issues. */
export function SheetsBench({ project, settings, inPlace }: Props) {
  const { data: sheets = [] } = useSheets(project.id);
  const { data: drawings = [] } = useDrawings(project.id);
  const { sheet: wanted } = useParams();
  const navigate = useNavigate();
  const { choose, designing, setDesigning, working, setWorking } = useSheetState();
  const [issues, setIssues] = useState(false);
  const [looked, setLooked] = useState<Looked | null>(null);
  const { data: remarks = [] } = useRemarks(project.id);
  const [search, setSearch] = useSearchParams();
  const became = remarks.find((one) => one.id === Number(search.get("remark")));
  const table = wanted === "all";
  const sheet = table ? undefined : (sheets.find((s) => s.id === Number(wanted)) ?? sheets[0]);
  const open = (s: Sheet) => navigate(`/projects/${project.id}/sheets/${s.id}`);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another sheet, another choice
  useEffect(() => {
    choose([]);
    setDesigning(null);
    setWorking(null);
    setLooked(null);
  }, [sheet?.id, choose, setDesigning, setWorking]);
  const compare = (s: IssueChanges["sheets"][number] | null) =>
    setLooked(
      s?.issued_sheet
        ? { id: s.issued_sheet, title: `${s.number} ${s.title}, changed`, changes: true }
        : null,
    );
  return (
    <div className="flex h-full min-h-0">
      <Register
        project={project}
        sheets={sheets}
        drawings={drawings}
        sheet={sheet}
        onOpen={open}
        onTable={() => navigate(`/projects/${project.id}/sheets/all`)}
      />
      <main className="flex min-w-0 flex-1 flex-col">
        {became ? (
          <WhatBecame
            key={became.id}
            project={project.id}
            remark={became}
            sheets={sheets}
            onClose={() => {
              setSearch({});
              chooseRemark(became.id);
            }}
          />
        ) : looked ? (
          <Comparison
            project={project.id}
            issued={looked.id}
            title={looked.title}
            changes={looked.changes}
            onClose={() => setLooked(null)}
          />
        ) : table ? (
          <RegisterTable
            project={project}
            settings={settings}
            sheets={sheets}
            drawings={drawings}
            onOpen={open}
          />
        ) : sheet ? (
          <>
            <header className="flex h-8 shrink-0 items-center gap-2 border-b border-base-300 bg-base-200 px-2">
              <h2 className="truncate font-semibold">
                <span className="figures">{sheet.number}</span> {sheet.title}
              </h2>
              <span className="text-xs opacity-85">{sheet.size}</span>
              <span className="flex-1" />
              <button
                type="button"
                className="btn btn-xs"
                aria-pressed={issues}
                onClick={() => setIssues(!issues)}
              >
                <FileClock size={12} /> Issues
              </button>
              <OutputMenu project={project} sheet={sheet} sheets={sheets} />
            </header>
            {designing ? (
              <DesignCanvas sheet={sheet} />
            ) : (
              <SheetCanvas
                InPlace={inPlace.Pane}
                project={project}
                settings={settings}
                sheet={sheet}
                drawings={drawings}
              />
            )}
          </>
        ) : (
          <NoSheets project={project.id} />
        )}
      </main>
      <div
        hidden={(table && !issues) || became !== undefined}
        className="w-64 shrink-0 border-l border-base-300 bg-base-200"
      >
        {issues ? (
          <IssuesPanel
            project={project.id}
            sheets={sheets}
            onClose={() => setIssues(false)}
            onCompare={compare}
            onLook={(seen) => setLooked(seen && { ...seen, changes: false })}
          />
        ) : (
          sheet &&
          (working ? (
            <inPlace.Particulars
              project={project}
              settings={settings}
              sheet={sheet}
              working={working}
              drawings={drawings}
              sheets={sheets}
            />
          ) : (
            <SheetParticulars
              key={sheet.id}
              project={project}
              sheet={sheet}
              drawings={drawings}
              settings={settings}
            />
          ))
        )}
      </div>
    </div>
  );
}

function NoSheets({ project }: { project: number }) {
  const { add } = useSheetActs(project);
  return (
    <div className="film m-auto flex flex-col items-center gap-3 rounded border border-base-300 p-8 text-center text-[#22302b]">
      <p className="text-base font-semibold">No sheets yet</p>
      <p className="max-w-72 text-sm opacity-80">
        Make a sheet, then place drawings on it. Their markers then read drawing number over sheet number.
      </p>
      <button
        type="button"
        className="btn btn-primary btn-sm"
        onClick={() => add.mutate({ title: "Untitled sheet" })}
      >
        <Plus size={14} /> New sheet
      </button>
    </div>
  );
}
