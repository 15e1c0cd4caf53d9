import { Plus, Trash2 } from "lucide-react";
import { toast } from "sonner";
import type { Project, Register, Sheet } from "../../api/client";
import { useSaveRegister } from "../../api/sheet-acts";
import { TextField } from "../../fields/TextField";

type Folder = Register["folders"][number];
const MOST = 30; // characters of a key

/** The folders of the register, and the pattern that their sheets are numbered by. */
export function FoldersPart({ project, sheets }: { project: Project; sheets: Sheet[] }) {
  const save = useSaveRegister(project);
  const register = project.sheet_register;
  const put = (folders: Folder[]) => save.mutate({ ...register, folders });
  const change = (key: string, part: Partial<Folder>) =>
    put(register.folders.map((f) => (f.key === key ? { ...f, ...part } : f)));
  const add = () => {
    const taken = new Set(register.folders.map((f) => f.key));
    const key = ["more", ...Array.from({ length: 60 }, (_, k) => `more-${k + 2}`)].find((k) => !taken.has(k));
    if (key)
      put([
        ...register.folders,
        { key: key.slice(0, MOST), name: "New folder", discipline: "A", series: "9" },
      ]);
  };
  const remove = (folder: Folder) => {
    if (sheets.some((s) => s.folder === folder.key))
      toast.error(`${folder.name} holds sheets; move these first.`);
    else put(register.folders.filter((f) => f.key !== folder.key));
  };
  return (
    <section
      aria-label="Folders and numbers"
      className="flex flex-col gap-2 rounded border border-base-300 p-3"
    >
      <h3 className="font-semibold">Folders and numbers</h3>
      <TextField
        label="Pattern"
        value={register.pattern}
        figures
        onEnter={(pattern) => save.mutate({ ...register, pattern })}
      />
      <p className="text-xs opacity-85">
        Of <b className="figures">{"{discipline}"}</b>, <b className="figures">{"{series}"}</b>,{" "}
        <b className="figures">{"{folder}"}</b> and <b className="figures">{"{counter:02}"}</b>, which counts
        with two digits or more.
      </p>
      {register.folders.map((f) => (
        <div key={f.key} className="flex items-center gap-1">
          <Small
            label={`Name of ${f.name}`}
            value={f.name}
            wide
            onEnter={(name) => name && change(f.key, { name })}
          />
          <Small
            label={`Discipline of ${f.name}`}
            value={f.discipline}
            onEnter={(discipline) => change(f.key, { discipline })}
          />
          <Small
            label={`Series of ${f.name}`}
            value={f.series}
            onEnter={(series) => change(f.key, { series })}
          />
          <button
            type="button"
            className="btn btn-ghost btn-xs btn-square"
            aria-label={`Remove folder ${f.name}`}
            disabled={register.folders.length === 1}
            onClick={() => remove(f)}
          >
            <Trash2 size={12} />
          </button>
        </div>
      ))}
      <button type="button" className="btn btn-xs self-start" onClick={add}>
        <Plus size={12} /> Folder
      </button>
    </section>
  );
}

type SmallProps = { label: string; value: string; wide?: boolean; onEnter: (text: string) => void };

function Small({ label, value, wide, onEnter }: SmallProps) {
  return (
    <input
      key={value}
      className={`input input-xs ${wide ? "min-w-0 flex-1" : "figures w-12"}`}
      aria-label={label}
      defaultValue={value}
      maxLength={wide ? 60 : 12}
      onBlur={(event) => event.target.value.trim() !== value && onEnter(event.target.value.trim())}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
    />
  );
}
