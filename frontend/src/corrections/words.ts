import type { Correction } from "../api/client";
import { thick } from "./layers";

type Say = (metres: number) => string;

/** What is corrected, in a few words. */
export function what(correction: Correction, say: Say): string {
  if ("layers" in correction) {
    const count = correction.layers.length;
    return `${count} ${count === 1 ? "layer" : "layers"}, ${say(thick(correction.layers))}`;
  }
  if ("left_out" in correction) return "taken out";
  if ("copies" in correction) {
    const [first] = correction.copies;
    const count = correction.copies.length;
    return count === 1 && first ? `once more, ${far(first, say)}` : `${count} times more`;
  }
  if ("on" in correction)
    return `${correction.material} ${say(correction.thickness)} on its ${sideOf(correction.on.looks)}`;
  if ("risers" in correction) {
    const rise = correction.rise ? ` × ${say(correction.rise)}` : "";
    return `${correction.risers} risers${rise}, going ${say(correction.going)}${correction.other_way ? ", up the other way" : ""}`;
  }
  if ("had" in correction)
    return `${correction.in_place_of ? `${correction.material} in place of ${correction.in_place_of}` : `of ${correction.material}`}`;
  if ("outline" in correction)
    return `new ${correction.kind} of ${correction.material}, ${say(correction.end - correction.start)} long`;
  if ("path" in correction) {
    const long = correction.path.slice(1).reduce((sum, p, k) => sum + apart(correction.path[k] ?? p, p), 0);
    return `new ${correction.kind} of ${correction.material}, along ${say(long)}`;
  }
  if ("face" in correction) {
    if (correction.onto) return `a face led up to ${correction.onto}`;
    const out = correction.to.at - correction.face.at;
    return `${sideOf(correction.face.looks)} ${say(Math.abs(out))} ${out > 0 ? "outwards" : "inwards"}`;
  }
  if ("head" in correction) {
    const sides = (["left", "right", "sill", "head"] as const).filter((side) => correction[side]);
    return `opening: ${sides.map((side) => `${side} ${signed(correction[side], say)}`).join(", ")}`;
  }
  const turned = correction.turn && `turned by ${correction.turn}°`;
  return [far(correction.by, say), turned].filter(Boolean).join(", ");
}

const apart = (a: readonly number[], b: readonly number[]) =>
  Math.hypot(...a.map((one, k) => one - (b[k] ?? 0)));

const signed = (metres: number, say: Say) => `${metres > 0 ? "+" : "−"}${say(Math.abs(metres))}`;

function far(by: readonly number[], say: Say): string {
  const [x = 0, y = 0, z = 0] = by;
  return [x && `${say(x)} along x`, y && `${say(y)} along y`, z && `${say(z)} up`].filter(Boolean).join(", ");
}

function sideOf([x, y, z]: readonly [number, number, number]): string {
  if (Math.abs(z) > 0.7) return z > 0 ? "top" : "underside";
  if (Math.abs(x) > Math.abs(y)) return x > 0 ? "side towards x" : "side against x";
  return y > 0 ? "side towards y" : "side against y";
}

/** A correction that is said of the file as it is now. */
export function saidAnew(correction: Correction): Correction {
  if ("layers" in correction) return { ...correction, instead_of: [] };
  if ("by" in correction) return { ...correction, stood: [] };
  if ("head" in correction) return { ...correction, stood: null };
  if ("risers" in correction) return { ...correction, had: null };
  if ("had" in correction) return { ...correction, had: [] };
  return correction;
}

/** What a correction is of: there is one of the same. */
export function keyOf(correction: Correction): string {
  if ("layers" in correction) return `layers ${correction.element} ${correction.build_up}`;
  if ("outline" in correction || "path" in correction || "on" in correction) return `new ${correction.body}`;
  if ("face" in correction) return `face ${correction.element} ${Object.values(correction.face).join(" ")}`;
  if ("head" in correction) return `opening ${correction.element}`;
  if ("risers" in correction) return `steps ${correction.element}`;
  if ("had" in correction) return `material ${correction.in_place_of} ${correction.elements.join(" ")}`;
  const what = "by" in correction ? "place" : "copies" in correction ? "copies" : "presence";
  return `${what} ${correction.elements.join(" ")}`;
}
