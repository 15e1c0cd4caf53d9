import { useRef } from "react";
import type { InsetStrip, SectionCut } from "../../api/client";
import type { Place } from "../../desk/mode";
import type { Camera, Spot } from "../../drawing/camera";
import { Grip } from "../../drawing/canvas/Grip";
import { alongLine, directions, drawnLegs, onModel, onPaper } from "../cutting/plan-geometry";

type Props = {
  camera: Camera;
  /** Which of the plan's strips it is, from 1 on. */
  number: number;
  scale: number;
  strip: InsetStrip;
  section: SectionCut;
  onChange: (strip: InsetStrip) => void;
  onDrop: () => void;
};

/** The grip of a strip that is part of a section: it is dragged along the cutting line. */
export function StripGrip({ camera, number, scale, strip, section, onChange, onDrop }: Props) {
  const before = useRef<{ strip: InsetStrip; at: number } | null>(null);
  const { start, end } = strip;
  if (start === null || end === null) return null;
  const leg = drawnLegs(section)[0];
  if (!leg) return null;
  const { along } = directions([leg.a, leg.b], "left");
  const place = (paper: Spot) => {
    const p: Place = onModel(paper, scale);
    return (p[0] - leg.a[0]) * along[0] + (p[1] - leg.a[1]) * along[1];
  };
  return (
    <Grip
      camera={camera}
      at={onPaper(alongLine(section, (start + end) / 2), scale)}
      label={`Inset strip ${number}: move along the line`}
      colour="var(--ink-cut)"
      shape="diamond"
      onDrag={(paper) => {
        before.current ??= { strip, at: (start + end) / 2 };
        const by = Math.round((place(paper) - before.current.at) * 100) / 100;
        const old = before.current.strip;
        onChange({ ...strip, start: (old.start ?? 0) + by, end: (old.end ?? 0) + by });
      }}
      onDrop={() => {
        before.current = null;
        onDrop();
      }}
    />
  );
}
