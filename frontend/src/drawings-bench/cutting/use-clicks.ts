import { toast } from "sonner";
import { enlarge, offerWallSection } from "../../api/callouts";
import type { Drawing, Places, Settings } from "../../api/client";
import { client, unwrap } from "../../api/client";
import { putDrawing, queryClient, report } from "../../api/queries";
import { type Clicking, type Place, useBench } from "../../desk/drawings-state";

export const CLICK_HINTS: Record<Clicking, string> = {
  face: "Click the face that the line should run along. Esc leaves.",
  room: "Click a room: each of its walls becomes an interior elevation. Esc leaves.",
  corners:
    "Click the corners of the extents; click the first one again, or press Enter, to close. Esc leaves.",
  break: "Click on an edge, or at both ends of the part that is taken out. Esc leaves.",
  wall: "Click a wall: its whole section is offered, with its junctions. Esc leaves.",
  thing: "Click a stair or a room: it gets an enlarged plan. Esc leaves.",
  level: "Click near the level of which a plan is wanted. Esc leaves.",
};

const ROOM_SCALE = 50;
const PLAN_SCALE = 100;
const STAIR_OVER = 1; // metres that a plan may be cut above the flights that it shows

/** Drawings that are made by one click: of a room's walls on a plan, of a level in a section. */
export function useClicks(project: number, settings: Settings, onMade: (drawing: number) => void) {
  const setClicking = useBench((s) => s.setClicking);
  const path = { params: { path: { id: project } } };
  const make = async (kind: "interior elevations" | "plans", part: { space?: string; storey?: string }) => {
    setClicking(null);
    try {
      const made =
        kind === "plans"
          ? [await planOf(part.storey ?? "")]
          : await unwrap<Drawing[]>(
              client.POST("/api/projects/{id}/drawing-sets", {
                ...path,
                body: { kind, space: part.space ?? "", heights: {}, scale: ROOM_SCALE },
              }),
            );
      for (const drawing of made) putDrawing(queryClient, project, drawing);
      if (made[0]) onMade(made[0].id);
    } catch (error) {
      report(error);
    }
  };
  const planOf = (storey: string) =>
    unwrap<Drawing>(
      client.POST("/api/projects/{id}/drawings", {
        ...path,
        body: {
          parent_id: null,
          name: "",
          cut: { ...settings.new_plan, storey },
          style: { ...settings.new_style, scale: PLAN_SCALE },
        },
      }),
    );
  const { setOffered } = useBench.getState();
  const offer = async (at: Place, look: "left" | "right", wanted?: number[]) => {
    setClicking(null);
    try {
      const proposal = await offerWallSection(project, at, look);
      setOffered({ at, look, proposal, wanted: wanted ?? proposal.junctions.map((_, k) => k) });
    } catch (error) {
      report(error);
    }
  };
  return {
    /** The section of the wall at a place. */
    wall: offer,
    /** An enlargement of the stair, or else of the room, about a place at a height. */
    thing: async (plan: number, places: Places | undefined, at: Place, height: number) => {
      const here = (places?.things ?? []).filter(
        (t) => t.base <= height && height <= t.top + STAIR_OVER && holds(t.outline as Place[], at),
      );
      const thing = here.find((t) => t.kind === "stair") ?? here.find((t) => t.kind === "room");
      if (!thing) {
        toast("There is no stair and no room of the model here; click on one.", { id: "thing" });
        return;
      }
      setClicking(null);
      try {
        const made = await enlarge(plan, [thing.guid]);
        for (const drawing of made) putDrawing(queryClient, project, drawing);
        if (made[0]) onMade(made[0].id);
      } catch (error) {
        report(error);
      }
    },
    /** The room about a place at a height, of those that the model has. */
    room: (places: Places | undefined, at: Place, height: number) => {
      const room = places?.things.find(
        (t) => t.kind === "room" && t.base <= height && height <= t.top && holds(t.outline as Place[], at),
      );
      if (room) make("interior elevations", { space: room.guid });
      else toast("There is no room of the model here; click inside one.", { id: "room" });
    },
    level: (storey: string) => make("plans", { storey }),
  };
}

/** Whether a ring holds a point: a ray from it crosses the ring an odd number of times. */
function holds(ring: Place[], [x, y]: Place): boolean {
  let inside = false;
  ring.forEach(([x1, y1], k) => {
    const [x0, y0] = ring.at(k - 1) as Place;
    if (y0 > y !== y1 > y && x < x0 + ((y - y0) / (y1 - y0)) * (x1 - x0)) inside = !inside;
  });
  return inside;
}
