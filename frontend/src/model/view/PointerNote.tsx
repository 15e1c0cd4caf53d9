import { useLengths } from "../../fields/lengths";
import type { Offset } from "../model-state";
import { wholeMm } from "../opening/plane-geometry";
import type { Pointed } from "./pointing";

const WORDS: readonly (readonly [Offset, string])[] = [
  ["face", "in the face"],
  ["middle", "through its middle"],
  ["before", "before it"],
];

type Props = { pointed: Pointed; offset: Offset; at: { x: number; y: number } };

/** Beside the pointer: what it points at, and where planes could cut there; keys 1 to 3 choose. */
export function PointerNote({ pointed, offset, at }: Props) {
  const { say } = useLengths();
  const { element } = pointed.hit;
  const used = pointed.planes[offset] ? offset : "face";
  return (
    <div
      className="pointer-events-none absolute top-0 left-0 rounded border border-base-300 bg-base-100/90 px-1.5 py-0.5 text-xs shadow"
      style={{ transform: `translate(${at.x + 16}px, ${at.y + 14}px)` }}
    >
      <div className="font-semibold">{element.name || element.kind}</div>
      {WORDS.map(([name, words], k) => {
        const plane = pointed.planes[name];
        return (
          plane && (
            <div key={name} className={name === used ? "text-primary" : "opacity-80"}>
              <kbd className="kbd kbd-xs">{k + 1}</kbd> {words}
              {plane.by !== 0 && `, ${say(wholeMm(Math.abs(plane.by)))}`}
              {name === used && " ←"}
            </div>
          )
        );
      })}
    </div>
  );
}
