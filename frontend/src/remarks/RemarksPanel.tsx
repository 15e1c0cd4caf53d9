import { Download, MapPin, MessageSquare } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import { addRemark, readRemarks, useRemarks } from "../api/remarks";
import { ReadFile } from "../fields/ReadFile";
import { useCommand } from "../shell/commands";
import { SidePanel } from "../shell/SidePanel";
import { closeRemarks, pinning, useRemarking } from "./pinning";
import { RemarkCard } from "./RemarkCard";

/** The way to the remarks of a project, with how many are open. */
export function RemarksButton({ project }: { project: number }) {
  const { data: remarks = [] } = useRemarks(project);
  const open = useRemarking((s) => s.open);
  const left = remarks.filter((one) => one.state === "open").length;
  const turn = () => (open ? closeRemarks() : useRemarking.setState({ open: true }));
  useCommand({ name: "Remarks", group: "Project", run: turn });
  const words = left > 0 ? `Remarks, ${left} open` : "Remarks";
  return (
    <>
      <button
        type="button"
        className="btn btn-ghost btn-xs"
        aria-expanded={open}
        aria-label={words}
        title={words}
        onClick={turn}
      >
        <MessageSquare size={14} />
        {left > 0 && <span className="badge badge-primary badge-xs">{left}</span>}
      </button>
      {open && <RemarksPanel project={project} />}
    </>
  );
}

function RemarksPanel({ project }: { project: number }) {
  const { data: remarks = [] } = useRemarks(project);
  const { draft, chosen } = useRemarking();
  const [all, setAll] = useState(false);
  const picking = pinning.useHeld() !== null;
  const shown = remarks.filter((one) => all || one.state !== "done" || one.id === chosen);
  return (
    <SidePanel label="Remarks" title="Remarks" wide="w-96" onClose={closeRemarks}>
      {draft ? (
        <NewRemark key={`${draft.sheet} ${draft.drawing} ${draft.at}`} project={project} />
      ) : (
        <button
          type="button"
          className="btn btn-sm self-start"
          aria-pressed={picking}
          onClick={() => pinning.set(picking ? null : {})}
        >
          <MapPin size={14} /> {picking ? "Click the place, in a drawing or on a sheet" : "Pin a remark"}
        </button>
      )}
      {remarks.length === 0 && !draft && (
        <p className="text-sm opacity-85">
          None yet. A remark is pinned to a place; what is remarked in a drawing shows in every drawing of
          that place.
        </p>
      )}
      <ul aria-label="Remarks" className="flex flex-col gap-2">
        {shown.map((one) => (
          <RemarkCard key={one.id} project={project} remark={one} chosen={one.id === chosen} />
        ))}
      </ul>
      {remarks.some((one) => one.state === "done") && (
        <label className="flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={all}
            onChange={(event) => setAll(event.target.checked)}
          />
          those that are done, too
        </label>
      )}
      <Outside project={project} any={remarks.length > 0} />
    </SidePanel>
  );
}

function NewRemark({ project }: { project: number }) {
  const draft = useRemarking((s) => s.draft);
  const [text, setText] = useState("");
  const [to, setTo] = useState("");
  const [due, setDue] = useState("");
  const keep = async () => {
    if (!draft) return;
    const made = await addRemark(project, draft, { text, to, due });
    if (made) useRemarking.setState({ draft: null, chosen: made.id });
  };
  return (
    <form
      aria-label="New remark"
      className="flex flex-col gap-2 rounded border border-accent bg-base-100 p-2 text-sm"
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <textarea
        className="textarea textarea-sm w-full"
        aria-label="What is remarked"
        rows={3}
        maxLength={4000}
        // biome-ignore lint/a11y/noAutofocus: the place was clicked to write here
        autoFocus
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <span className="flex gap-2">
        <input
          className="input input-xs w-full"
          aria-label="To whom"
          placeholder="to whom"
          maxLength={80}
          value={to}
          onChange={(event) => setTo(event.target.value)}
        />
        <input
          type="date"
          className="input input-xs w-36"
          aria-label="Until when"
          value={due}
          onChange={(event) => setDue(event.target.value)}
        />
      </span>
      <span className="flex gap-2">
        <button type="submit" className="btn btn-primary btn-xs" disabled={text.trim() === ""}>
          Keep the remark
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          onClick={() => useRemarking.setState({ draft: null })}
        >
          Leave it
        </button>
      </span>
    </form>
  );
}

/** Remarks for others: on paper, or for other programs; and what these answer. */
function Outside({ project, any }: { project: number; any: boolean }) {
  const read = async (file: File) => {
    const found = await readRemarks(project, file);
    if (found)
      toast(
        `${found.answered} say more, ${found.new} are new; ${found.others} of something else, or as known.`,
      );
  };
  const at = `/api/projects/${project}/remarks`;
  return (
    <div className="mt-auto flex flex-wrap gap-1 border-t border-base-300 pt-2">
      {any && (
        <a className="btn btn-xs" href={`${at}.pdf`} download title="Each with a picture of its place">
          <Download size={12} /> List as PDF
        </a>
      )}
      {any &&
        (["3.0", "2.1"] as const).map((version) => (
          <a
            key={version}
            className="btn btn-xs"
            href={`${at}/topics?version=${version}`}
            download
            title="Topics with pictures and viewpoints, for other programs"
          >
            <Download size={12} /> BCF {version}
          </a>
        ))}
      <ReadFile words="Read BCF" label="File of remarks" accept=".bcf,.bcfzip" onFile={read} />
    </div>
  );
}
