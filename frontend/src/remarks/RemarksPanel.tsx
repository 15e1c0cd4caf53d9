import { Download, MapPin, MessageSquare, Pencil, Undo2, X } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import { storePicture } from "../api/annotations";
import { addRemark, readRemarks, useRemarks } from "../api/remarks";
import { ReadFile } from "../fields/ReadFile";
import { useCommand } from "../shell/commands";
import { SidePanel } from "../shell/SidePanel";
import { chooseRemark, closeRemarks, leaveDraft, pinning, useRemarking } from "./pinning";
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
  const { draft, sketch } = useRemarking();
  const [picture, setPicture] = useState("");
  const [text, setText] = useState("");
  const [to, setTo] = useState("");
  const [due, setDue] = useState("");
  const keep = async () => {
    if (!draft) return;
    const made = await addRemark(project, draft, { text, to, due, sketch, picture });
    if (made) chooseRemark(made.id);
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
      <Added project={project} picture={picture} onPicture={setPicture} />
      <span className="flex gap-2">
        <button type="submit" className="btn btn-primary btn-xs" disabled={text.trim() === ""}>
          Keep the remark
        </button>
        <button type="button" className="btn btn-ghost btn-xs" onClick={leaveDraft}>
          Leave it
        </button>
      </span>
    </form>
  );
}

/** What is added to the words of a remark: lines over its place, and a picture. */
function Added({
  project,
  picture,
  onPicture,
}: {
  project: number;
  picture: string;
  onPicture: (name: string) => void;
}) {
  const { sketch, sketching } = useRemarking();
  const load = (file: File) =>
    storePicture(project, file).then(
      (found) => onPicture(found.name),
      (error) => toast.error(error.message),
    );
  return (
    <span className="flex flex-wrap items-center gap-1">
      <button
        type="button"
        className="btn btn-xs"
        aria-pressed={sketching}
        onClick={() => useRemarking.setState({ sketching: !sketching })}
      >
        <Pencil size={12} /> {sketching ? "Draw over the place" : "Sketch"}
      </button>
      {sketch.length > 0 && (
        <button
          type="button"
          className="btn btn-xs btn-square"
          aria-label="Take the last line back"
          title="Take the last line back"
          onClick={() => useRemarking.setState({ sketch: sketch.slice(0, -1) })}
        >
          <Undo2 size={12} />
        </button>
      )}
      {picture ? (
        <span className="flex items-center gap-1">
          <img
            src={`/api/pictures/${picture}`}
            alt="To be added"
            className="h-8 rounded border border-base-300"
          />
          <button
            type="button"
            className="btn btn-xs btn-square"
            aria-label="Leave the picture out"
            onClick={() => onPicture("")}
          >
            <X size={12} />
          </button>
        </span>
      ) : (
        <ReadFile words="Picture" label="Picture of the remark" accept="image/png" onFile={load} />
      )}
    </span>
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
      {any && (
        <a
          className="btn btn-xs"
          href={`${at}/sheets.pdf`}
          download
          title="Those that are not done, laid over"
        >
          <Download size={12} /> Over sheets
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
