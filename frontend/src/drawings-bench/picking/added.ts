import type { Element } from "../../api/client";
import type { Picked } from "../../desk/drawings-state";

/** What is picked after one more pick in a drawing: `more` keeps what was picked there, and what is picked again by
 * itself, not in a box, is let go. */
export function added(
  before: Picked | null,
  drawing: number,
  found: Element[],
  how: { box: boolean; more: boolean },
): Picked | null {
  if (!how.more || before?.drawing !== drawing)
    return found.length > 0 ? { drawing, found, at: 0, many: how.box } : null;
  const kept = before.many ? before.found : before.found.slice(before.at, before.at + 1);
  const fresh = how.box ? found : found.slice(0, 1);
  const again = new Set(fresh.map((e) => e.guid));
  const both = how.box
    ? [...kept, ...fresh.filter((e) => !kept.some((k) => k.guid === e.guid))]
    : kept.some((k) => again.has(k.guid))
      ? kept.filter((k) => !again.has(k.guid))
      : [...kept, ...fresh];
  return both.length > 0 ? { drawing, found: both, at: 0, many: both.length > 1 } : null;
}
