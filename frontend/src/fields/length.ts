/** Lengths as people type them: "2400", "2.4 m", "1200 + 3*300", 7'-10 1/2", in the unit of the project unless another
 * one is written. */

export type Lengths = "mm" | "m" | "ft-in";

const INCH = 25.4; // mm
const UNITS: Record<string, number> = { mm: 1, cm: 10, m: 1000, ft: 12 * INCH, in: INCH };
const BARE: Record<Lengths, number> = { mm: 1, m: 1000, "ft-in": 12 * INCH };
const FEET =
  /(\d+(?:\.\d+)?)\s*(?:'|′|ft)(?:-|\s*)(?:(\d+(?:\.\d+)?(?!\s*\/))?\s*(?:(\d+)\s*\/\s*(\d+))?\s*(?:"|″|in))?/g;
const INCHES = /(?:(\d+(?:\.\d+)?)(?:\s+(\d+)\s*\/\s*(\d+))?|(\d+)\s*\/\s*(\d+))\s*(?:"|″|in)/g;

/** Feet and inches are made one length in mm before anything is reckoned: their hyphen is no minus. */
function withoutFeet(text: string): string {
  const number = (part: string | undefined) => Number(part ?? 0);
  const share = (a: string | undefined, b: string | undefined) => (a ? number(a) / number(b) : 0);
  return text
    .replace(
      FEET,
      (_, feet, inches, a, b) => ` ${(number(feet) * 12 + number(inches) + share(a, b)) * INCH} mm `,
    )
    .replace(
      INCHES,
      (_, inches, a, b, c, d) => ` ${(number(inches) + share(a, b) + share(c, d)) * INCH} mm `,
    );
}

/** Metres from a text, or null when it is no length. */
export function parseLength(text: string, lengths: Lengths = "mm"): number | null {
  const plain = text.toLowerCase().replaceAll(",", ".").replaceAll("−", "-");
  const tokens = withoutFeet(plain).match(/\d*\.?\d+(?:e-?\d+)?|mm|cm|m|ft|in|[-+*/()]|\S/g);
  if (!tokens) return null;
  let at = 0;
  let united = false; // whether any unit was written
  const factor = (): number => {
    const token = tokens[at++];
    if (token === "-") return -factor();
    if (token === "+") return factor();
    let value: number;
    if (token === "(") {
      value = sum();
      if (tokens[at++] !== ")") return Number.NaN;
    } else value = token !== undefined && /^[\d.]/.test(token) ? Number(token) : Number.NaN;
    const unit = UNITS[tokens[at] ?? ""];
    if (unit !== undefined) {
      at++;
      united = true;
      return (value * unit) / BARE[lengths];
    }
    return value;
  };
  const product = (): number => {
    let value = factor();
    while (tokens[at] === "*" || tokens[at] === "/")
      value = tokens[at++] === "*" ? value * factor() : value / factor();
    return value;
  };
  const sum = (): number => {
    let value = product();
    while (tokens[at] === "+" || tokens[at] === "-")
      value = tokens[at++] === "+" ? value + product() : value - product();
    return value;
  };
  const value = (sum() * BARE[lengths]) / 1000;
  const digits = united ? 1e7 : 1e6; // what arithmetic adds beyond a micrometre is noise
  return at === tokens.length && Number.isFinite(value) ? Math.round(value * digits) / digits : null;
}

const SIXTEENTHS = 16 * 12;

/** Millimetres to a tenth, metres to a millimetre, or feet and inches to a sixteenth. */
export function showLength(metres: number, lengths: Lengths = "mm"): string {
  const sign = metres < 0 ? "−" : "";
  const size = Math.abs(metres);
  if (lengths === "mm") return sign + String(Math.round(size * 1e4) / 10);
  if (lengths === "m") return sign + size.toFixed(3);
  const all = Math.round(((size * 1000) / INCH) * 16);
  const [feet, rest] = [Math.floor(all / SIXTEENTHS), all % SIXTEENTHS];
  const [inches, part] = [Math.floor(rest / 16), rest % 16];
  let bottom = 16;
  let top = part;
  while (top > 0 && top % 2 === 0) {
    top /= 2;
    bottom /= 2;
  }
  const whole = inches > 0 || feet > 0 || part === 0 ? [String(inches)] : [];
  const small = `${[...whole, ...(part > 0 ? [`${top}/${bottom}`] : [])].join(" ")}"`;
  return sign + (feet > 0 ? `${feet}'-${small}` : small);
}
