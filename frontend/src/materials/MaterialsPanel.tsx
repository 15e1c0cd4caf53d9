import { Layers2, Undo2 } from "lucide-react";
import { type MouseEvent, useState } from "react";
import { Link } from "react-router";
import type { MaterialRow, Project } from "../api/client";
import { sayOf, settleMaterials, takeOver, useMaterialPictures, useMaterials } from "../api/materials";
import { useProject } from "../api/queries";
import { LinePicture } from "../fields/LinePicture";
import { useCommand } from "../shell/commands";
import { SidePanel } from "../shell/SidePanel";
import { ClassChoice } from "./ClassChoice";
import { taken } from "./chosen";
import { HatchChoice } from "./HatchChoice";
import { everywhere, saidOf } from "./places";
import { SaidHere } from "./SaidHere";

const KNOWN: Record<MaterialRow["by"], string> = {
  us: "by us",
  name: "by its name",
  category: "by its category",
  guess: "a guess",
  nothing: "not known",
};

/** The way to what the model's materials are. */
export function MaterialsButton({ project }: { project: number }) {
  const [open, setOpen] = useState(false);
  const { data } = useProject(project);
  const unclear = data?.facts.unclear?.filter((name) => !(name in data.materials)).length ?? 0;
  const says = unclear > 0 ? `Materials of the model: ${unclear} not clear` : "Materials of the model";
  useCommand({ name: "Say what materials are", group: "Project", run: () => setOpen(!open) });
  return (
    <>
      <button
        type="button"
        className={`btn btn-ghost btn-xs ${unclear > 0 ? "gap-1 px-1" : "btn-square"}`}
        aria-expanded={open}
        aria-label={says}
        title={says}
        onClick={() => setOpen(!open)}
      >
        <Layers2 size={15} />
        {unclear > 0 && <span className="badge badge-warning badge-xs">{unclear}</span>}
      </button>
      {open && data && <MaterialsPanel project={data} onClose={() => setOpen(false)} />}
    </>
  );
}

/** Every material by its name, with what it is drawn as: said by the file's words, or by us. */
function MaterialsPanel({ project, onClose }: { project: Project; onClose: () => void }) {
  const { data, isLoading } = useMaterials(project.id, true);
  const { data: pictures } = useMaterialPictures(project.id, true);
  const [chosen, setChosen] = useState<string[]>([]);
  const [last, setLast] = useState<string | null>(null);
  const rows = data?.materials ?? [];
  const unclear = rows.filter((m) => m.by === "nothing" || m.by === "guess");
  const offered = rows.filter((m) => m.elsewhere);
  const offeredHere = data?.offered ?? [];
  const choose = (name: string, event: MouseEvent) => {
    const names = rows.map((m) => m.name);
    setChosen(taken(names, chosen, name, event.shiftKey ? last : null));
    setLast(name);
  };
  const say = (names: string[], is: string | null) => {
    settleMaterials(project, Object.fromEntries(names.map((name) => [name, is])));
    setChosen([]);
  };
  return (
    <SidePanel label="Materials" title="Materials of the model" wide="w-[42rem] text-xs" onClose={onClose}>
      <p className="opacity-85">
        {isLoading
          ? "Measuring …"
          : unclear.length > 0
            ? `${unclear.length} of ${rows.length} are not clear: say what they are, and every drawing follows, whatever its standard.`
            : `All ${rows.length} are clear. What you say here goes before every standard.`}
      </p>
      {offered.length + offeredHere.length > 0 && (
        <button
          type="button"
          className="btn btn-xs self-start"
          onClick={() =>
            takeOver(project, Object.fromEntries(offered.map((m) => [m.name, m.elsewhere])), offeredHere)
          }
        >
          Take over what another project says of {offered.length + offeredHere.length}
        </button>
      )}
      {chosen.length > 1 && (
        <div className="flex items-center gap-2">
          <span>{chosen.length} chosen are</span>
          <ClassChoice
            label="What the chosen ones are"
            value=""
            classes={data?.classes ?? []}
            onChoose={(is) => say(chosen, is)}
          />
        </div>
      )}
      <table className="w-full">
        <thead>
          <tr className="text-left opacity-80">
            <th className="font-normal" aria-label="Choose" />
            <th className="font-normal" aria-label="Picture" />
            <th className="font-normal">In the file</th>
            <th className="pr-2 text-right font-normal">m³</th>
            <th className="font-normal">Drawn as</th>
            <th className="font-normal">Hatched</th>
            <th className="font-normal" aria-label="Where" />
          </tr>
        </thead>
        <tbody>
          {rows.map((m) => (
            <tr key={m.name} className="border-t border-base-300 align-top">
              <td className="py-1 pr-1">
                <input
                  type="checkbox"
                  className="checkbox checkbox-xs"
                  aria-label={`Choose ${m.name}`}
                  checked={chosen.includes(m.name)}
                  onChange={() => undefined}
                  onClick={(event) => choose(m.name, event)}
                />
              </td>
              <td className="py-1 pr-1.5">
                <LinePicture label={`Where ${m.name} lies`} size={44} {...pictures?.get(m.name)} />
              </td>
              <td className="max-w-36 py-1 wrap-anywhere">
                {m.name}
                <span className="block opacity-75">
                  {m.category && m.category !== m.name ? `${m.category}, ` : ""}
                  {m.elements} {m.elements === 1 ? "element" : "elements"}
                </span>
              </td>
              <td className="figures py-1 pr-2 text-right">{m.volume > 0 ? m.volume.toFixed(2) : "–"}</td>
              <td className="py-1">
                <ClassChoice
                  label={`What ${m.name} is`}
                  value={m.is_a}
                  classes={data?.classes ?? []}
                  onChoose={(is) => say([m.name], is)}
                />
                <span
                  className={`block pt-0.5 ${m.by === "nothing" || m.by === "guess" ? "text-warning" : "opacity-75"}`}
                >
                  {m.by === "nothing" || m.by === "guess" ? "! " : ""}
                  {KNOWN[m.by]}
                </span>
                {m.by === "us" && (
                  <button
                    type="button"
                    className="btn btn-ghost btn-xs h-5 min-h-0 px-1"
                    aria-label={`As the file says: ${m.name}`}
                    title={`As the file says: ${m.otherwise}`}
                    onClick={() => say([m.name], null)}
                  >
                    <Undo2 size={11} /> {m.otherwise}
                  </button>
                )}
              </td>
              <td className="py-1">
                <HatchChoice
                  label={`How ${m.name} is hatched`}
                  value={saidOf(project, everywhere(m.name))?.hatch ?? ""}
                  hatches={data?.hatches ?? []}
                  onChoose={(hatch) =>
                    sayOf(project, [everywhere(m.name)], {
                      is_a: project.materials[m.name] ?? "",
                      hatch,
                    })
                  }
                />
              </td>
              <td className="py-1 text-right">
                {m.where[0] && (
                  <Link
                    className="link"
                    aria-label={`Where ${m.name} is`}
                    onClick={onClose}
                    to={`/projects/${project.id}/model?element=${encodeURIComponent(m.where[0])}`}
                  >
                    where
                  </Link>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {data && <SaidHere project={project} here={data.here} />}
    </SidePanel>
  );
}
