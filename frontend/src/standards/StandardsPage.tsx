import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Copy, Download, Trash2, Upload } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { toast } from "sonner";
import { client, Refusal, type Standard, type StandardDocument, unwrap } from "../api/client";
import { keys, report, useStandards } from "../api/queries";
import { DrawingCanvas } from "../drawing/canvas/DrawingCanvas";
import { AnnotationTable } from "./AnnotationTable";
import { AppearanceTable } from "./AppearanceTable";
import { HatchEditor } from "./HatchEditor";
import { MaterialTable } from "./MaterialTable";
import { PenTable } from "./PenTable";
import { RulesTable } from "./RulesTable";
import { usePicture } from "./use-picture";
import { WordTable } from "./WordTable";
import { ALL } from "./words";

type Tab = "hatches" | "materials" | "words" | "appearances" | "pens" | "rules" | "annotations" | "page";
const TABS: readonly (readonly [Tab, string])[] = [
  ["hatches", "Hatches"],
  ["materials", "Materials"],
  ["words", "Words"],
  ["appearances", "Seen surfaces"],
  ["pens", "Pens"],
  ["rules", "Conventions"],
  ["annotations", "Annotations"],
  ["page", "All hatches"],
];
const QUIET = 500; // milliseconds without a change before it is saved

/** Drawing standards: looked at, copied, edited, given away and taken over. */
export function StandardsPage({ project }: { project: number }) {
  const { data: standards = [] } = useStandards(project);
  const { key = "fine-line" } = useParams();
  const [tab, setTab] = useState<Tab>("hatches");
  const [hatch, setHatch] = useState("soft insulation"); // stays chosen from one standard to the next, and
  const [language, setLanguage] = useState(ALL); // so does this: a copy opens while somebody works
  const navigate = useNavigate();
  const open = (next: string) => navigate(`/projects/${project}/standards/${next}`);
  const standard = standards.find((s) => s.key === key) ?? standards[0];
  if (!standard) return <p className="p-8">Opening …</p>;
  return (
    <div className="flex h-full min-h-0">
      <nav
        aria-label="Drawing standards"
        className="flex w-52 shrink-0 flex-col border-r border-base-300 bg-base-200"
      >
        <h2 className="flex h-8 items-center border-b border-base-300 px-2 font-semibold">
          Drawing standards
        </h2>
        <ul className="flex-1 overflow-y-auto py-1">
          {standards.map((s) => (
            <li key={s.key}>
              <button
                type="button"
                aria-current={s.key === standard.key}
                className={`w-full cursor-pointer truncate px-2 py-1 text-left ${s.key === standard.key ? "bg-base-300 font-semibold" : "hover:bg-base-300/60"}`}
                onClick={() => open(s.key)}
              >
                {s.name}
                {s.id === null && <span className="ml-1 text-xs font-normal opacity-80">as shipped</span>}
              </button>
            </li>
          ))}
        </ul>
        <Acts project={project} standard={standard} onOpen={open} />
      </nav>
      <Editor
        key={standard.key}
        project={project}
        standard={standard}
        tab={tab}
        onTab={setTab}
        hatch={hatch}
        onHatch={setHatch}
        language={language}
        onLanguage={setLanguage}
      />
    </div>
  );
}

type ActProps = { project: number; standard: Standard; onOpen: (key: string) => void };

/** Copy, give away, take over, delete. */
function Acts({ project, standard, onOpen }: ActProps) {
  const cache = useQueryClient();
  const file = useRef<HTMLInputElement>(null);
  const settled = {
    onError: report,
    onSettled: () => cache.invalidateQueries({ queryKey: keys.standards(project) }),
  };
  const path = { params: { path: { id: project } } };
  const add = useMutation({
    mutationFn: (body: { copy_of: string; name: string | null; document: StandardDocument | null }) =>
      unwrap<Standard>(client.POST("/api/projects/{id}/standards", { ...path, body })),
    onSuccess: (made) => {
      cache.setQueryData<Standard[]>(keys.standards(project), (old) => [...(old ?? []), made]);
      onOpen(made.key);
    },
    ...settled,
  });
  const remove = useMutation({
    mutationFn: (id: number) => unwrap(client.DELETE("/api/standards/{id}", { params: { path: { id } } })),
    onSuccess: () => onOpen("fine-line"),
    ...settled,
  });
  const take = async (chosen: File | undefined) => {
    if (!chosen) return;
    try {
      add.mutate({ copy_of: standard.key, name: null, document: JSON.parse(await chosen.text()) });
    } catch {
      toast.error(`${chosen.name} is not JSON; choose a file that was exported here.`);
    }
    if (file.current) file.current.value = "";
  };
  return (
    <div className="flex flex-col gap-1 border-t border-base-300 p-2">
      <button
        type="button"
        className="btn btn-xs justify-start"
        onClick={() => add.mutate({ copy_of: standard.key, name: null, document: null })}
      >
        <Copy size={12} /> Copy to edit
      </button>
      <a
        className="btn btn-xs justify-start"
        download={`${standard.name}.json`}
        href={`data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify(standard.document, null, 1))}`}
      >
        <Download size={12} /> Export as JSON
      </a>
      <button type="button" className="btn btn-xs justify-start" onClick={() => file.current?.click()}>
        <Upload size={12} /> Import JSON
      </button>
      <input
        ref={file}
        hidden
        type="file"
        accept=".json"
        aria-label="Standard as JSON"
        onChange={(event) => take(event.target.files?.[0])}
      />
      {standard.id !== null && (
        <button
          type="button"
          className="btn btn-ghost btn-xs justify-start"
          onClick={() => standard.id !== null && remove.mutate(standard.id)}
        >
          <Trash2 size={12} /> Delete
        </button>
      )}
    </div>
  );
}

type EditorProps = {
  project: number;
  standard: Standard;
  tab: Tab;
  onTab: (tab: Tab) => void;
  hatch: string;
  onHatch: (name: string) => void;
  language: string;
  onLanguage: (code: string) => void;
};

/** One standard; changes are shown at once and saved when they come to rest. */
function Editor(props: EditorProps) {
  const { project, standard, tab, onTab, hatch, onHatch, language, onLanguage } = props;
  const { document, change, saved } = useEditedStandard(project, standard);
  const readOnly = standard.id === null;
  return (
    <section className="flex min-w-0 flex-1 flex-col" aria-label={standard.name}>
      <header className="flex h-8 items-center gap-2 border-b border-base-300 bg-base-200 px-2">
        {readOnly ? (
          <h2 className="font-semibold">{standard.name}</h2>
        ) : (
          <input
            className="input input-xs w-56 font-semibold"
            aria-label="Name of the standard"
            value={document.name}
            onChange={(event) =>
              event.target.value.trim() && change({ ...document, name: event.target.value })
            }
          />
        )}
        <div role="tablist" className="ml-2 flex h-full">
          {TABS.map(([value, words]) => (
            <button
              key={value}
              type="button"
              role="tab"
              aria-selected={tab === value}
              className={`border-b-2 px-3 ${tab === value ? "border-secondary font-semibold" : "cursor-pointer border-transparent opacity-85"}`}
              onClick={() => onTab(value)}
            >
              {words}
            </button>
          ))}
        </div>
        <span className="flex-1" />
        <span className="text-xs opacity-85" role="status">
          {readOnly ? "As shipped: copy it to edit" : saved ? "Saved" : "Saving …"}
        </span>
      </header>
      <div className="min-h-0 flex-1">
        {tab === "hatches" && (
          <HatchEditor
            document={document}
            readOnly={readOnly}
            chosen={hatch}
            onChoose={onHatch}
            onChange={change}
          />
        )}
        {tab === "materials" && <MaterialTable document={document} readOnly={readOnly} onChange={change} />}
        {tab === "words" && (
          <WordTable
            project={project}
            document={document}
            readOnly={readOnly}
            onChange={change}
            language={language}
            onLanguage={onLanguage}
          />
        )}
        {tab === "appearances" && (
          <AppearanceTable document={document} readOnly={readOnly} onChange={change} />
        )}
        {tab === "pens" && <PenTable document={document} readOnly={readOnly} onChange={change} />}
        {tab === "rules" && <RulesTable document={document} readOnly={readOnly} onChange={change} />}
        {tab === "annotations" && (
          <AnnotationTable document={document} readOnly={readOnly} onChange={change} />
        )}
        {tab === "page" && <HatchPage project={project} standard={standard} />}
      </div>
    </section>
  );
}

function useEditedStandard(project: number, standard: Standard) {
  const [edited, setEdited] = useState<StandardDocument | null>(null);
  const cache = useQueryClient();
  const put = (next: Standard) =>
    cache.setQueryData<Standard[]>(keys.standards(project), (old) =>
      old?.map((s) => (s.key === next.key ? next : s)),
    );
  const save = useMutation({
    mutationFn: (document: StandardDocument) =>
      unwrap<Standard>(
        client.PATCH("/api/standards/{id}", {
          params: { path: { id: standard.id ?? 0 } },
          body: { version: standard.version, document },
        }),
      ),
    onSuccess: (next, document) => {
      put(next);
      setEdited((now) => (now === document ? null : now));
      cache.invalidateQueries({ queryKey: keys.drawings(project) });
    },
    onError: (error) => {
      if (error instanceof Refusal && error.status === 409 && error.problem.current) {
        put(error.problem.current as unknown as Standard);
        setEdited(null);
      }
      report(error);
    },
  });
  const { mutate, isPending } = save;
  useEffect(() => {
    if (!edited || isPending) return;
    const timer = setTimeout(() => mutate(edited), QUIET);
    return () => clearTimeout(timer);
  }, [edited, isPending, mutate]);
  return { document: edited ?? standard.document, change: setEdited, saved: edited === null };
}

function HatchPage({ project, standard }: { project: number; standard: Standard }) {
  const { view } = usePicture(
    `/api/projects/${project}/standards/${standard.key}/view`,
    undefined,
    standard.version,
  );
  return (
    <DrawingCanvas
      name={`All hatches of ${standard.name}`}
      cameraKey={`hatches ${standard.key}`}
      view={view}
    />
  );
}
