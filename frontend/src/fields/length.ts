/** Lengths as people type them: "2400", "2.4 m", "1200 + 3*300", in millimetres unless a unit says otherwise. */

const UNITS: Record<string, number> = { mm: 1, cm: 10, m: 1000 };

/** Metres from a text, or null when it is no length. */
export function parseLength(text: string): number | null {
  const tokens = text
    .toLowerCase()
    .replaceAll(",", ".")
    .replaceAll("−", "-")
    .match(/\d*\.?\d+|mm|cm|m|[-+*/()]|\S/g);
  if (!tokens) return null;
  let at = 0;
  const factor = (): number => {
    const token = tokens[at++];
    if (token === "-") return -factor();
    if (token === "+") return factor();
    let value: number;
    if (token === "(") {
      value = sum();
      if (tokens[at++] !== ")") return Number.NaN;
    } else value = token !== undefined && /^[\d.]+$/.test(token) ? Number(token) : Number.NaN;
    const unit = UNITS[tokens[at] ?? ""];
    if (unit !== undefined) {
      at++;
      return value * unit;
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
  const value = sum();
  return at === tokens.length && Number.isFinite(value) ? value / 1000 : null;
}

export const showLength = (metres: number): string => String(Math.round(metres * 1e4) / 10).replace("-", "−");
