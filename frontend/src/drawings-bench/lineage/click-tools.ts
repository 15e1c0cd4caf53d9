import { toast } from "sonner";
import { enlarge, offerWallSection } from "../../api/callouts";
import type { Drawing, DrawingKind } from "../../api/client";
import { client, unwrap } from "../../api/client";
import { addDrawing, putDrawing, queryClient, report } from "../../api/queries";
import { type Held, held, type Place } from "../../desk/mode";
import { ruleNow, settingsBy } from "../../desk/rules";
import type { PaperPointer } from "../../drawing/canvas/DrawingCanvas";
import { offer } from "../cutting/offer-tool";
import { onModel } from "../cutting/plan-geometry";
import { says } from "../modes/says";
import { type Pane, tool } from "../modes/tool";

const ROOM_SCALE = 50;
const PLAN_SCALE = 100;
const STAIR_OVER = 1; // metres that a plan may be cut above the flights that it shows

export const clickWall = held<{ kind: "wall" }>("wall");
export const clickThing = held<{ kind: "thing" }>("thing");
export const clickRoom = held<{ kind: "room" }>("room");
export const clickLevel = held<{ kind: "level" }>("level");

/** A tool of one click that makes drawings: `drawn` gives what is to be made, if there is anything. */
const once = (
  kind: ReturnType<typeof held<Held>>,
  words: string,
  works: (pane: Pane) => boolean,
  drawn: (at: PaperPointer, pane: Pane) => (() => Promise<Drawing[]>) | undefined,
  makes?: DrawingKind,
) =>
  tool({
    held: kind,
    works,
    click: async (at, pane) => {
      const make = drawn(at, pane);
      if (!make) return;
      kind.set(null);
      try {
        const made = await make();
        for (const drawing of made) putDrawing(queryClient, pane.project.id, drawing);
        if (made[0]) pane.choose(made[0].id);
      } catch (error) {
        report(error);
      }
    },
    back: () => null,
    Foot: says(words, makes),
  });

const onPlan = (pane: Pane) => pane.side === "source" && pane.spec.cut.kind === "plan";

/** The whole section of a wall that is clicked is offered, and nothing made yet. */
export const wallTool = once(
  clickWall,
  "Click a wall: its whole section is offered, with its junctions. Esc leaves.",
  onPlan,
  ({ paper }, { project, scale }) =>
    async () => {
      const at = onModel(paper, scale);
      const proposal = await offerWallSection(project.id, at, "left");
      offer.set({ at, look: "left", proposal, wanted: proposal.junctions.map((_, k) => k) });
      return [];
    },
  "wall section",
);

/** An enlargement of the stair, or else of the room, that is clicked. */
export const thingTool = once(
  clickThing,
  "Click a stair or a room: it gets an enlarged plan. Esc leaves.",
  onPlan,
  ({ paper }, pane) => {
    const height = heightOf(pane);
    const here = thingsAt(pane, onModel(paper, pane.scale)).filter(
      (t) => t.base <= height && height <= t.top + STAIR_OVER,
    );
    const thing = here.find((t) => t.kind === "stair") ?? here.find((t) => t.kind === "room");
    const { drawing } = pane;
    const rule = ruleNow(pane.project.id, "enlarged plan")?.key ?? "";
    if (thing && drawing) return () => enlarge(drawing.id, [thing.guid], rule);
    toast("There is no stair and no room of the model here; click on one.", { id: "thing" });
    return undefined;
  },
  "enlarged plan",
);

/** An interior elevation of each wall of the room that is clicked. */
export const roomTool = once(
  clickRoom,
  "Click a room: each of its walls becomes an interior elevation. Esc leaves.",
  onPlan,
  ({ paper }, pane) => {
    const height = heightOf(pane);
    const room = thingsAt(pane, onModel(paper, pane.scale)).find(
      (t) => t.kind === "room" && t.base <= height && height <= t.top,
    );
    if (room)
      return () =>
        unwrap<Drawing[]>(
          client.POST("/api/projects/{id}/drawing-sets", {
            params: { path: { id: pane.project.id } },
            body: {
              kind: "interior elevations",
              space: room.guid,
              heights: {},
              scale: ROOM_SCALE,
              rule: ruleNow(pane.project.id, "interior elevation")?.key ?? "",
            },
          }),
        );
    toast("There is no room of the model here; click inside one.", { id: "room" });
    return undefined;
  },
  "interior elevation",
);

export const isUpright = ({ spec: { cut } }: Pane) =>
  cut.kind !== "plan" && cut.kind !== "plane" && cut.kind !== "blank";

/** A plan of the level nearest to a click in an upright drawing. */
export const levelTool = once(
  clickLevel,
  "Click near the level of which a plan is wanted. Esc leaves.",
  (pane) => pane.drawing !== undefined && isUpright(pane),
  ({ paper }, { project, scale, settings }) => {
    const away = (s: { elevation: number }) => Math.abs(s.elevation - (paper.y * scale) / 1000);
    const storey = [...project.facts.storeys].sort((a, b) => away(a) - away(b))[0]?.guid;
    if (!storey) return undefined;
    return async () => {
      const rule = ruleNow(project.id, "plan");
      const { new_plan, new_style } = settingsBy(rule, settings);
      const style = rule ? new_style : { ...new_style, scale: PLAN_SCALE };
      const cut = { ...new_plan, storey };
      return [await addDrawing(project.id, { parent_id: null, cut, style, rule: rule?.key })];
    };
  },
  "plan",
);

/** The height at which a plan is cut, metres. */
function heightOf({ spec: { cut }, project }: Pane): number {
  if (cut.kind !== "plan") return 0;
  return (project.facts.storeys.find((s) => s.guid === cut.storey)?.elevation ?? 0) + (cut.height ?? 0);
}

const thingsAt = ({ places }: Pane, at: Place) =>
  (places?.things ?? []).filter((t) => holds(t.outline as Place[], at));

/** Whether a ring holds a point: a ray from it crosses the ring an odd number of times. */
function holds(ring: Place[], [x, y]: Place): boolean {
  let inside = false;
  ring.forEach(([x1, y1], k) => {
    const [x0, y0] = ring.at(k - 1) as Place;
    if (y0 > y !== y1 > y && x < x0 + ((y - y0) / (y1 - y0)) * (x1 - x0)) inside = !inside;
  });
  return inside;
}
