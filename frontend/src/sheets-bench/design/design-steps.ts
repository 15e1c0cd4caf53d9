import type { DesignDocument, DesignPart, DesignRegion, Sheet } from "../../api/client";
import type { Frame } from "../../drawing/screen-form";

type Side = keyof DesignRegion;

/** What of a design can be moved: its parts and drawing areas, each with a key, a word and its region. */
export function movable(document: DesignDocument): { key: string; says: string; region: DesignRegion }[] {
  return [
    ...document.parts.map((p, k) => ({ key: `part ${k}`, says: wordOf(p), region: p.region })),
    ...document.areas.map((a, k) => ({ key: `area ${k}`, says: `Area: ${a.name}`, region: a.region })),
  ];
}

const wordOf = (part: DesignPart) => part.kind.charAt(0).toUpperCase() + part.kind.slice(1);

/** The frame of a sheet by a design's margins (left, base, right, top), mm. */
export function frameOf(sheet: Sheet, { margins }: DesignDocument): Frame {
  return [margins.left, margins.base, sheet.width - margins.right, sheet.height - margins.top];
}

/** A region on a sheet, mm. */
export function boxOf(region: DesignRegion, [left, base, right, top]: Frame): Frame {
  const wide = right - left;
  const high = top - base;
  return [
    left + region.left.share * wide + region.left.mm,
    base + region.base.share * high + region.base.mm,
    left + region.right.share * wide + region.right.mm,
    base + region.top.share * high + region.top.mm,
  ];
}

/** A region whose sides were moved by millimetres; they keep what they are measured from. */
export function regionMoved(region: DesignRegion, by: Partial<Record<Side, number>>): DesignRegion {
  const side = (name: Side) => ({
    share: region[name].share,
    mm: Math.round((region[name].mm + (by[name] ?? 0)) * 2) / 2,
  });
  return { left: side("left"), base: side("base"), right: side("right"), top: side("top") };
}

/** The same place, measured from other sides of the frame: shares 0, ½ or 1 for left and right, base and top. */
export function regionFrom(
  region: DesignRegion,
  frame: Frame,
  across: number | null,
  up: number | null,
): DesignRegion {
  const [left, base, right, top] = boxOf(region, frame);
  const along = (value: number, start: number, end: number, share: number) => ({
    share,
    mm: Math.round((value - start - share * (end - start)) * 2) / 2,
  });
  const [l, b, r, t] = frame;
  return {
    left: across === null ? along(left, l, r, 0) : along(left, l, r, across),
    right: across === null ? along(right, l, r, 1) : along(right, l, r, across),
    base: up === null ? along(base, b, t, 0) : along(base, b, t, up),
    top: up === null ? along(top, b, t, 1) : along(top, b, t, up),
  };
}

/** A design in which one region is another one. */
export function withRegion(document: DesignDocument, key: string, region: DesignRegion): DesignDocument {
  const [kind, at] = key.split(" ");
  const put = <T extends { region: DesignRegion }>(list: T[]) =>
    list.map((x, k) => (k === Number(at) ? { ...x, region } : x));
  return kind === "part"
    ? { ...document, parts: put(document.parts) }
    : { ...document, areas: put(document.areas) };
}

/** A design without one of its parts or areas. */
export function without(document: DesignDocument, key: string): DesignDocument {
  const [kind, at] = key.split(" ");
  return kind === "part"
    ? { ...document, parts: document.parts.filter((_, k) => k !== Number(at)) }
    : { ...document, areas: document.areas.filter((_, k) => k !== Number(at)) };
}

export type Kind = DesignPart["kind"];
const SIZES: Record<Kind, [wide: number, high: number]> = {
  "title block": [180, 54],
  revisions: [120, 40],
  north: [16, 16],
  "scale bar": [60, 10],
  "key plan": [70, 50],
  "sheet list": [160, 90],
  "drawing list": [160, 90],
  logo: [40, 20],
  text: [80, 20],
};

/** A new part in the middle of the sheet. */
export function newPart(kind: Kind, picture: string): DesignPart {
  const [wide, high] = SIZES[kind];
  const half = (mm: number) => ({ share: 0.5, mm });
  const region = { left: half(-wide / 2), right: half(wide / 2), base: half(-high / 2), top: half(high / 2) };
  if (kind === "title block")
    return {
      kind,
      region,
      cells: [{ left: 0, base: 0, wide, high, caption: "Sheet title", says: "{title}", lettering: "title" }],
    };
  if (kind === "text") return { kind, region, says: "{project}", lettering: "label" };
  if (kind === "logo") return { kind, region, picture };
  return { kind, region };
}
