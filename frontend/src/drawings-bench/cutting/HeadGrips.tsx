import type { Marker, SectionCut, Settings, Style } from "../../api/client";
import type { Place } from "../../desk/mode";
import type { Camera, Spot } from "../../drawing/camera";
import { Grip } from "../../drawing/canvas/Grip";
import { directions, onModel, onPaper, shifted } from "./plan-geometry";

type Props = {
  camera: Camera;
  scale: number;
  look: SectionCut["look"];
  marker: Style["marker"];
  /** What shows of the section's line. */
  pieces: Marker["pieces"];
  form: Settings["marker"];
  onChange: (marker: Style["marker"]) => void;
  onDrop: () => void;
};
const NEAR = 2; // mm on paper; a head that is dropped so near to its usual place stands there

/** Grips of the heads of the lit section: each is dragged along its line. */
export function HeadGrips({ camera, scale, look, marker, pieces, form, onChange, onDrop }: Props) {
  const mm = scale / 1000;
  const [first, last] = [pieces[0], pieces.at(-1)];
  if (!first || !last) return null;
  const [start, end] = [first.line as Place[], last.line as Place[]];
  const ends = [
    {
      name: "first",
      piece: first,
      at: start[0] as Place,
      along: directions(start.slice(0, 2), look).along,
      way: -1,
    },
    {
      name: "last",
      piece: last,
      at: end.at(-1) as Place,
      along: directions(end.slice(-2), look).along,
      way: 1,
    },
  ] as const;
  return ends.map(({ name, piece, at, along, way }, k) => {
    if ((marker.heads !== "both" && marker.heads !== name) || !piece.ends[k]) return null;
    const usual = form.overhang + form.radius;
    const out = (usual + form.radius * 1.9 + (marker.shift?.[k] || (piece.aside[k] ?? 0))) * mm * way;
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
