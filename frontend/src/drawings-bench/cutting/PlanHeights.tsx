import { useState } from "react";
import type { Drawing } from "../../api/client";
import { type Camera, toScreen } from "../../drawing/camera";
import { Grip } from "../../drawing/canvas/Grip";
import type { Frame } from "../../drawing/screen-form";
import { useLengths } from "../../fields/lengths";
import type { Bench } from "../desk/bench";
import { heightsOf, movedTo } from "./plan-heights";

const ASIDE = 13; // pixels from the edge, and between those that lie at one height

type Props = { bench: Bench; camera: Camera; scale: number; frame: Frame };

/** Where plans cut what an upright drawing shows: each height is dragged here, and its plan follows. */
export function PlanHeights({ bench, camera, scale, frame }: Props) {
  const { say } = useLengths();
  const [pointed, setPointed] = useState<number | null>(null);
  const { project, drawings } = bench;
  const shown = (drawing: Drawing) => bench.liveOf(drawing)?.cut ?? drawing.cut;
  const heights = heightsOf(drawings, project.facts.storeys, shown);
  const paper = (metres: number) => (metres * 1000) / scale;
  const metres = (y: number) => (y * scale) / 1000;
  const seen = heights.filter(({ at }) => paper(at) > frame[1] && paper(at) < frame[3]);
  return (
    <g data-plan-heights={seen.length}>
      {seen.map(({ plan, cut, over, at, beside }) => {
        const y = paper(at);
        const [a, b] = [toScreen(camera, { x: frame[0], y }), toScreen(camera, { x: frame[2], y })];
        const lit = pointed === plan.id;
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: the grip in it is the button; this only lights it
          <g
            key={plan.id}
            opacity={lit ? 1 : 0.55}
            onPointerEnter={() => setPointed(plan.id)}
            onPointerLeave={() => setPointed(null)}
            onFocus={() => setPointed(plan.id)}
            onBlur={() => setPointed(null)}
          >
            <line
              x1={a.x - 5}
              x2={lit ? b.x : a.x + ASIDE * (beside + 1)}
              y1={a.y}
              y2={a.y}
              stroke="var(--ink-cut)"
              strokeDasharray="9 3 2 3"
              pointerEvents="none"
            />
            <Grip
              camera={camera}
              at={{ x: frame[0] + (ASIDE * (beside + 0.5)) / camera.zoom, y }}
              label={`Cutting height of ${plan.title}`}
              colour="var(--ink-cut)"
              shape="diamond"
              cursor="ns-resize"
              onDrag={(spot, _shift, alt) => {
                const next = movedTo(cut, over, metres(spot.y), alt);
                if (next) bench.show(plan, { cut: next });
              }}
              onDrop={() => bench.drop(plan, "cut")}
            />
            {lit && (
              <text
                x={a.x + ASIDE * (beside + 2)}
                y={a.y - 5}
                fontSize={11}
                fill="var(--ink-cut)"
                stroke="var(--film)"
                strokeWidth={3}
                paintOrder="stroke"
                pointerEvents="none"
              >
                {plan.title}: {say(at - over.elevation)} over {over.name}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}
