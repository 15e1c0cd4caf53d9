import type { Drawing, Project, Proposed } from "../../api/client";

export type ByHand = { storey: string; line: [[number, number], [number, number]] | null; look: null };
type Props = {
  project: Project;
  drawings: Drawing[];
  proposed: Proposed;
  value: ByHand | undefined;
  onChange: (place: ByHand | undefined) => void;
};

const BEYOND = 1.5; // metres that a line runs on beyond the building

/** A hand to place a kept drawing that has no place in this model by itself; none for callouts, which follow theirs. */
export function PlaceByHand({ project, drawings, proposed, value, onChange }: Props) {
  const places = placesFor(project, drawings, proposed);
  if (proposed.parent !== "" || places.length === 0) return null;
  const chosen = places.findIndex((p) => JSON.stringify(p.place) === JSON.stringify(value));
  return (
    <select
      className="select select-xs mt-1 w-full"
      aria-label={`Place ${proposed.title} by hand`}
      value={chosen < 0 ? "" : String(chosen)}
      onChange={({ target }) => onChange(target.value ? places[Number(target.value)]?.place : undefined)}
    >
      <option value="">Place it by hand …</option>
      {places.map(({ says }, k) => (
        <option key={says} value={k}>
          {says}
        </option>
      ))}
    </select>
  );
}

function placesFor(
  { facts }: Project,
  drawings: Drawing[],
  { cut }: Proposed,
): { says: string; place: ByHand }[] {
  if (cut.kind === "plan")
    return facts.storeys.map((s) => ({
      says: `On ${s.name}`,
      place: { storey: s.guid, line: null, look: null },
    }));
  if (!("line" in cut)) return [];
  const [x0 = 0, y0 = 0] = facts.low;
  const [x1 = 0, y1 = 0] = facts.high;
  const [x, y] = [(x0 + x1) / 2, (y0 + y1) / 2];
  const along = (says: string, line: ByHand["line"]) => ({ says, place: { storey: "", line, look: null } });
  return [
    along("Through the middle, along x", [
      [x0 - BEYOND, y],
      [x1 + BEYOND, y],
    ]),
    along("Through the middle, along y", [
      [x, y0 - BEYOND],
      [x, y1 + BEYOND],
    ]),
    ...drawings.flatMap((d) => {
      const first = "line" in d.cut ? d.cut.line[0] : undefined;
      const last = "line" in d.cut ? d.cut.line.at(-1) : undefined;
      return first && last && !d.callout ? [along(`Where ${d.title} is`, [first, last])] : [];
    }),
  ];
}
