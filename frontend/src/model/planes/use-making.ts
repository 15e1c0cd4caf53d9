import { useNavigate } from "react-router";
import { toast } from "sonner";
import type { Cut, Drawing, Project, Settings } from "../../api/client";
import { useDrawingRules } from "../../api/drawing-rules";
import { addDrawing, keys, patchDrawing, queryClient, report } from "../../api/queries";
import { kindOf, ruleNow, seenBy, settingsBy } from "../../desk/rules";
import { useModelBench } from "../model-state";
import type { Plane, Space } from "../opening/opening";
import type { Hiding } from "../view/use-showing";
import { cutOfPlane, cutOfView, type Whence } from "./use-planes";

const PICTURE = 0.26; // metres that a perspective is wide on paper, about
const SCALES = [1, 2, 5, 10, 20, 50, 100, 200, 500];

/** The scale at which a picture so wide (metres) is about as wide as a hand's two spans. */
const pictureScale = (wide: number) => SCALES.find((scale) => wide / scale <= PICTURE) ?? 500;

/** What becomes of the plane that was looked for: a drawing, or the cut of one that there is. */
export function useMaking(project: Project, settings: Settings) {
  const { plane, thickness, set } = useModelBench();
  const navigate = useNavigate();
  useDrawingRules(project.id); // known by the time that something is made
  const refresh = () => queryClient.invalidateQueries({ queryKey: keys.drawings(project.id), exact: true });
  const draw = async ({ perspective = false, keep = false } = {}) => {
    if (!plane) return;
    try {
      const cut = await cutOfPlane(project.id, plane, { depth: thickness, perspective });
      const { parent_id } = cut;
      const rule = ruleNow(project.id, kindOf(cut.cut));
      const { depth, ...seen } = seenBy(rule); // how deep it looks is said here
      const made = await addDrawing(project.id, {
        parent_id,
        cut: { ...cut.cut, ...seen },
        style: settingsBy(rule, settings).new_style,
        rule: rule?.key,
      });
      await refresh();
      if (!keep && isStill(plane)) set({ drawing: made.id, plane: null });
      toast(`${made.title} is made.`, {
        action: { label: "Open it", onClick: () => navigate(`/projects/${project.id}?drawing=${made.id}`) },
      });
    } catch (wrong) {
      report(wrong);
    }
  };
  /** A drawing of the building as it is seen and opened. */
  const drawView = async (whence: Whence, openings: Space[], hiding: Hiding) => {
    try {
      const { cut } = await cutOfView(project.id, whence, openings);
      const rule = ruleNow(project.id, kindOf(cut));
      const { depth, without, ...seen } = seenBy(rule); // how deep it looks is said here
      const left = [...new Set([...(without ?? []), ...(cut.without ?? []), ...hiding.without])];
      const style = settingsBy(rule, settings).new_style;
      const made = await addDrawing(project.id, {
        parent_id: null,
        cut: { ...cut, ...seen, ...hiding, without: left } as Cut,
        style: whence.eye ? { ...style, scale: pictureScale(2 * (cut.extents?.right ?? 1)) } : style,
        rule: rule?.key,
      });
      await refresh();
      toast(`${made.title} is made.`, {
        action: { label: "Open it", onClick: () => navigate(`/projects/${project.id}?drawing=${made.id}`) },
      });
    } catch (wrong) {
      report(wrong);
    }
  };
  const give = async (like: Drawing) => {
    if (!plane) return;
    try {
      const { cut } = await cutOfPlane(project.id, plane, { like: like.id });
      await patchDrawing(like, { cut });
      await refresh();
      if (isStill(plane)) set({ plane: null });
    } catch (wrong) {
      report(wrong); // the plane stays, whatever became of the drawing
      await refresh();
    }
  };
  return { draw, drawView, give };
}

/** Whether nobody looked for another plane meanwhile. */
const isStill = (plane: Plane) => useModelBench.getState().plane === plane;
