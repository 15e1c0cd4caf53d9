import { ArrowDown, ArrowUp, Plus, Undo2, X } from "lucide-react";
import { useState } from "react";
import type { BuildUp, Element, LayersCorrection, Project } from "../api/client";
import { correctLayers, useBuildUp, withLayers } from "../api/corrections";
import { useMaterials } from "../api/materials";
import { useProject } from "../api/queries";
import { LengthField } from "../fields/LengthField";
import { useLengths } from "../fields/lengths";
import { TextField } from "../fields/TextField";
import { ClassChoice } from "../materials/ClassChoice";
import { alike, changed, type Layer, moved, thick } from "./layers";
import { saidOf } from "./said-of";
import { useTryOut } from "./trying";

const LEAST = 0; // metres; membranes may have no thickness
const NEW: Layer = { material: "New layer", thickness: 0.05, is_a: "" };

type Props = {
  project: number;
  elements: Element[];
  /** A build-up itself, where none of its elements is picked. */
  name?: string;
};

/** The layers of what was picked, to be put right: of it alone, or of all of its build-up. Of several picked ones those
 * count that have the build-up of the first. */
export function BuildUpPart({ project, elements, name = "" }: Props) {
  const [open, setOpen] = useState(false);
  const { data: of } = useProject(project);
  const first = elements.find((one) => one.build_up);
  const asked = first ? { element: first.guid } : { name };
  const { data } = useBuildUp(of, asked, open && (first !== undefined || name !== ""));
  if (!of || !(first || name)) return null;
  const alike = elements.filter((one) => one.build_up === first?.build_up).map((one) => one.guid);
  if (!open)
    return (
      <button type="button" className="link self-start text-xs" onClick={() => setOpen(true)}>
        {elements.length > 1 && first ? `Put layers of “${first.build_up}” right` : "Put its layers right"}
      </button>
    );
  if (!data) return null;
  if (data.why_not)
    return <p className="text-xs text-warning">! Its layers can't be corrected: {data.why_not}</p>;
  return (
    <Layers key={saidOf(of.corrections, alike, data.name)} project={of} elements={alike} inFile={data} />
  );
}

type LayersProps = { project: Project; elements: string[]; inFile: BuildUp };

function Layers({ project, elements, inFile }: LayersProps) {
  const ofLayers = project.corrections.filter((one) => "layers" in one);
  const own = ofLayers.find((one) => elements.includes(one.element ?? ""));
  const kept = own ?? ofLayers.find((one) => one.build_up === inFile.name);
  const [alone, setAlone] = useState(own !== undefined);
  const [layers, setLayers] = useState<Layer[]>([...(kept?.layers ?? inFile.layers)]);
  const [typed, setTyped] = useState<{ at: number; thickness: number } | null>(null);
  const [stays, setStays] = useState<LayersCorrection["stays"]>(kept?.stays ?? "first");
  const [reason, setReason] = useState(kept?.reason ?? "");
  const { say } = useLengths();
  const { data } = useMaterials(project.id, true);
  const known = new Set(data?.materials.map((m) => m.name));
  const of = { elements: alone ? elements : [], build_up: inFile.name };
  const now = typed ? changed(layers, typed.at, { thickness: typed.thickness }) : layers;
  const same = alike(now, inFile.layers);
  const asDrawn = alike(now, (kept ?? inFile).layers) && stays === (kept?.stays ?? "first");
  const wanted = same ? null : { layers: now, stays, reason };
  useTryOut(asDrawn ? null : withLayers(project, of, wanted));
  const [first, last] = [layers[0]?.material, layers.at(-1)?.material];
  return (
    <fieldset aria-label="Layers as they shall be" className="flex flex-col gap-1 text-xs">
      <datalist id="materials of the model">
        {[...known].map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      <ol className="flex flex-col gap-1" aria-label="Layers">
        {layers.map((layer, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a layer is what stands at its place
          <li key={k} className="rounded border border-base-300 p-1">
            <span className="flex items-center gap-0.5">
              <input
                className="input input-xs min-w-0 flex-1"
                list="materials of the model"
                aria-label={`Material of layer ${k + 1}`}
                maxLength={300}
                value={layer.material}
                onChange={(event) => setLayers(changed(layers, k, { material: event.target.value }))}
              />
              <Small label={`Layer ${k + 1} up`} onClick={() => setLayers(moved(layers, k, -1))}>
                <ArrowUp size={11} />
              </Small>
              <Small label={`Layer ${k + 1} down`} onClick={() => setLayers(moved(layers, k, 1))}>
                <ArrowDown size={11} />
              </Small>
              {layers.length > 1 && (
                <Small
                  label={`Take layer ${k + 1} out`}
                  onClick={() => setLayers(layers.filter((_, n) => n !== k))}
                >
                  <X size={11} />
                </Small>
              )}
            </span>
            <LengthField
              label={`Layer ${k + 1}`}
              value={layer.thickness}
              least={LEAST}
              whileTyped={(thickness) => setTyped({ at: k, thickness })}
              onChange={(metres) => {
                setTyped(null);
                if (metres !== null) setLayers(changed(layers, k, { thickness: metres }));
              }}
            />
            {data && !known.has(layer.material) && (
              <ClassChoice
                label={`What layer ${k + 1} is`}
                value={layer.is_a ?? ""}
                usual="by its name"
                classes={data.classes}
                onChoose={(is_a) => setLayers(changed(layers, k, { is_a }))}
              />
            )}
          </li>
        ))}
      </ol>
      <button
        type="button"
        className="btn btn-ghost btn-xs self-start"
        onClick={() => setLayers([...layers, NEW])}
      >
        <Plus size={11} /> Add a layer
      </button>
      <p className="opacity-80">
        {say(thick(now))} together; {say(thick(inFile.layers))} in the file
      </p>
      <select
        className="select select-xs w-full overflow-hidden pr-7 text-ellipsis"
        aria-label="Which face stays"
        value={stays}
        onChange={(event) => setStays(event.target.value as LayersCorrection["stays"])}
      >
        <option value="first">the face of {first} stays</option>
        <option value="last">the face of {last} stays</option>
        <option value="middle">its middle stays</option>
      </select>
      <select
        className="select select-xs w-full overflow-hidden pr-7 text-ellipsis"
        aria-label="What is corrected"
        value={alone ? "one" : "all"}
        onChange={(event) => setAlone(event.target.value === "one")}
      >
        <option value="all">
          all {inFile.elements} of “{inFile.name}”
        </option>
        {elements.length > 0 && (
          <option value="one">
            {elements.length > 1 ? `these ${elements.length} alone` : "this element alone"}
          </option>
        )}
      </select>
      <TextField label="Because" labelWidth="w-16" value={reason} mayBeEmpty most={500} onEnter={setReason} />
      <span className="flex gap-1">
        <button
          type="button"
          className="btn btn-primary btn-xs"
          disabled={same && !kept}
          onClick={() => correctLayers(project, of, wanted)}
        >
          Draw it so
        </button>
        {kept && (
          <button
            type="button"
            className="btn btn-xs"
            onClick={() => correctLayers(project, own ? { ...of, elements } : { ...of, elements: [] }, null)}
          >
            <Undo2 size={11} /> As the file has it
          </button>
        )}
      </span>
    </fieldset>
  );
}

function Small(props: { label: string; onClick: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-xs btn-square"
      aria-label={props.label}
      onClick={props.onClick}
    >
      {props.children}
    </button>
  );
}
