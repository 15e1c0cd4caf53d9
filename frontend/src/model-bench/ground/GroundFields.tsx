import { useState } from "react";
import type { Ground, GroundRole, GroundShape, Project, SharedExtents } from "../../api/client";
import { Choice } from "../../fields/Choice";
import { LengthField } from "../../fields/LengthField";
import { boxSides } from "../../model/opening/box-geometry";
import { PointsText } from "./PointsText";

type Kind = GroundShape["kind"] | "none";
const BELOW = 0.15; // metres that ground lies under the lowest storey at or above zero, where nothing is said

type Props = {
  project: Project;
  boxes: SharedExtents[];
  picked: string | null;
  role: GroundRole;
  ground: Ground | null;
  modelHas: boolean;
  onGround: (ground: Ground | null) => void;
};

/** One ground: what its shape is made of, what it is of, and how far it goes. */
export function GroundFields({ project, boxes, picked, role, ground, modelHas, onGround }: Props) {
  const said: Kind = ground?.shape?.kind ?? "none";
  const [chosen, setChosen] = useState<Kind | null>(null); // a kind whose points are not there yet
  const kind = chosen ?? said;
  const none = role === "proposed" ? "none" : modelHas ? "as the model has it" : "none";
  const KINDS: [Kind, string][] = [
    ["none", none],
    ["level", "level"],
    ["profile", "a profile along a line"],
    ["points", "points"],
    ["element", "on an element"],
  ];
  const base: Ground = ground ?? { shape: LEVEL, material: "Earth", reach: 15, area: [] };
  const shaped = (shape: GroundShape) => {
    setChosen(null);
    onGround({ ...base, shape });
  };
  const choose = (next: Kind) => {
    setChosen(null);
    if (next === said) return;
    if (next === "none") onGround(null);
    else if (next === "level") shaped({ kind: "level", height: usualHeight(project) });
    else setChosen(next);
  };
  const shape = ground?.shape;
  return (
    <>
      <Choice label="Shape" value={kind} options={KINDS} onChange={choose} />
      {kind === "level" && shape?.kind === "level" && (
        <LengthField
          label="Height"
          value={shape.height ?? 0}
          onChange={(height) => height !== null && shaped({ kind: "level", height })}
        />
      )}
      {(kind === "points" || kind === "profile") && (
        <PointsText key={kind} {...{ project, kind, shape }} onShape={shaped} />
      )}
      {kind === "element" && <OnElement {...{ picked, shape }} onShape={shaped} />}
      {ground && !chosen && <Reach {...{ ground, boxes, onGround }} />}
    </>
  );
}

const LEVEL: GroundShape = { kind: "level", height: 0 };

function usualHeight({ facts }: Project): number {
  const heights = facts.storeys.map((s) => s.elevation);
  const above = heights.filter((h) => h >= -0.5);
  return Number((Math.min(...(above.length > 0 ? above : [...heights, 0])) - BELOW).toFixed(3));
}

type OnElementProps = {
  picked: string | null;
  shape: GroundShape | undefined;
  onShape: (shape: GroundShape) => void;
};

/** Ground on the upper side of an element that is picked. */
function OnElement({ picked, shape, onShape }: OnElementProps) {
  const now = shape?.kind === "element" ? shape : null;
  return (
    <>
      <button
        type="button"
        className="btn btn-xs"
        disabled={!picked || picked === now?.guid}
        onClick={() => picked && onShape({ kind: "element", guid: picked, offset: now?.offset ?? 0 })}
      >
        {picked ? "Lie on what is picked" : "Pick what it lies on"}
      </button>
      {now && (
        <LengthField
          label="Above it"
          value={now.offset ?? 0}
          onChange={(offset) => offset !== null && onShape({ ...now, offset })}
        />
      )}
    </>
  );
}

type ReachProps = { ground: Ground; boxes: SharedExtents[]; onGround: (ground: Ground) => void };

/** What ground is made of, and where it ends. */
function Reach({ ground, boxes, onGround }: ReachProps) {
  const ring = JSON.stringify(ground.area ?? []);
  const rings = boxes.map((b) => [JSON.stringify(planOf(b)), `at ${b.name}`] as const);
  const own = (ground.area?.length ?? 0) > 0 && !rings.some(([said]) => said === ring);
  return (
    <>
      <label className="flex items-center gap-2">
        <span className="w-20 shrink-0 opacity-80">Material</span>
        <input
          aria-label="Material of the ground"
          className="input input-xs w-full"
          key={ground.material}
          defaultValue={ground.material}
          maxLength={100}
          onBlur={(event) => {
            const material = event.target.value.trim();
            if (material && material !== ground.material) onGround({ ...ground, material });
          }}
        />
      </label>
      <Choice
        label="Ends"
        value={ring}
        options={[
          ["[]", "round the building"],
          ...rings,
          ...(own ? ([[ring, "at its outline"]] as const) : []),
        ]}
        onChange={(area) => onGround({ ...ground, area: JSON.parse(area) })}
      />
      {(ground.area?.length ?? 0) === 0 && ground.shape?.kind !== "element" && (
        <LengthField
          label="Reach"
          value={ground.reach ?? 15}
          least={0}
          onChange={(reach) => reach !== null && onGround({ ...ground, reach })}
        />
      )}
    </>
  );
}

/** The outline of a box on plan. */
const planOf = ({ box }: SharedExtents): [number, number][] =>
  (boxSides(box).find((s) => s.axis === 2)?.corners ?? []).map(([x, y]) => [tidy(x), tidy(y)]);

const tidy = (value: number) => Math.round(value * 1000) / 1000;
