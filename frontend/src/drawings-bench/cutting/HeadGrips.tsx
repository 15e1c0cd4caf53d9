import type { SectionCut, Settings, Style } from "../../api/client";
import type { Place } from "../../desk/drawings-state";
import type { Camera, Spot } from "../../drawing/camera";
import { Grip } from "../../drawing/Grip";
import { directions, onModel, onPaper, shifted } from "./plan-geometry";

type Props = {
  camera: Camera;
  scale: number;
  cut: SectionCut;
  marker: Style["marker"];
  /** How far the heads stand further out by themselves, mm on paper. */
  aside: readonly number[];
  form: Settings["marker"];
  onChange: (marker: Style["marker"]) => void;
  onDrop: () => void;
};
const NEAR = 2; // mm on paper; a head that is dropped so near to its usual place stands there

/** Grips of the heads of the lit section: each is dragged along its line. */
export function HeadGrips({ camera, scale, cut, marker, aside, form, onChange, onDrop }: Props) {
  const mm = scale / 1000;
  const points = cut.line as Place[];
  const ends = [
    { name: "first", at: points[0] as Place, along: directions(points.slice(0, 2), cut.look).along, way: -1 },
    { name: "last", at: points.at(-1) as Place, along: directions(points.slice(-2), cut.look).along, way: 1 },
  ] as const;
  return ends.map(({ name, at, along, way }, k) => {
    if (marker.heads !== "both" && marker.heads !== name) return null;
    const usual = form.overhang + form.radius;
    const out = (usual + form.radius * 1.9 + (marker.shift?.[k] || (aside[k] ?? 0))) * mm * way;
    const drag = (paper: Spot) => {
      const p = onModel(paper, scale);
      const far = ((p[0] - at[0]) * along[0] + (p[1] - at[1]) * along[1]) * way;
      const shift = Math.round((far / mm - usual - form.radius * 1.9) * 2) / 2;
      const next = Math.abs(shift) < NEAR ? 0 : Math.min(500, Math.max(-500, shift));
      const before = marker.shift ?? [0, 0];
      onChange({ ...marker, shift: k === 0 ? [next, before[1]] : [before[0], next] });
    };
    return (
      <Grip
        key={name}
        camera={camera}
        at={onPaper(shifted(at, along, out), scale)}
        label={`Head at the ${name} end`}
        colour="var(--ink-cut)"
        shape="diamond"
        onDrag={drag}
        onDrop={onDrop}
      />
    );
  });
}
