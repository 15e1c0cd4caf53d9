import { useTrying } from "../../corrections/trying";
import { useBench } from "../../desk/drawings-state";
import { type Camera, toScreen } from "../../drawing/camera";

/** What is picked in a drawing, lit. */
export function PickedLines({ drawing, camera, scale }: { drawing: number; camera: Camera; scale: number }) {
  const picked = useBench((s) => s.picked);
  const dragged = useTrying((s) => s.inHand?.of.id === drawing); // it is not there any more
  if (picked?.drawing !== drawing || dragged) return null;
  const shown = picked.many ? picked.found : picked.found.slice(picked.at, picked.at + 1);
  const paths = shown.flatMap((element) =>
    element.lines.map((line) =>
      line
        .map(([u, v], k) => {
          const p = toScreen(camera, { x: (u * 1000) / scale, y: (v * 1000) / scale });
          return `${k === 0 ? "M" : "L"}${p.x} ${p.y}`;
        })
        .join(""),
    ),
  );
  return (
    <path
      data-picked={shown.map((e) => e.guid).join(" ")}
      d={paths.join("")}
      fill="none"
      stroke="var(--ink-depth)"
      strokeWidth={3}
      strokeOpacity={0.75}
      strokeLinejoin="round"
      pointerEvents="none"
    />
  );
}
