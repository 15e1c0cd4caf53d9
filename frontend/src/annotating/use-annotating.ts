import { useEffect, useMemo } from "react";
import { toast } from "sonner";
import { addAnnotation, type Draft, touchUp, useAnnotations, useSnaps } from "../api/annotations";
import type { Drawing, SpotIn } from "../api/client";
import { type Camera, type Spot, toScreen } from "../drawing/camera";
import type { PaperPointer } from "../drawing/DrawingCanvas";
import { folded } from "../drawing/folds";
import type { Frame, View } from "../drawing/screen-form";
import { type Shape, shapeAt, shapeOf, shapesIn } from "./shapes";
import { SnapIndex } from "./snap-index";
import { useAnnotate } from "./state";
import { directionOf, pointsOf, STEPS, spotOf, straight, tieOf, WINDOWED } from "./steps";
import { type Annotate, annotate, CLEAN, type Pick, type Place } from "./tools";

const REACH = 9; // pixels about the pointer
const TIE = 30; // mm on paper within which something drawn freely is tied to a corner
const PICTURE = 60; // mm on paper, width of a new picture

/** Clicks in a pane that annotate its drawing or touch it up, and that choose what is there. */
export function useAnnotating(
  project: number,
  drawing: Drawing | undefined,
  view: View | null,
  scale: number,
) {
  const state = useAnnotate();
  const inHand = annotate.use();
  const { tool = null, picks = [], pointer = null } = inHand ?? {};
  const { options } = state;
  const { data: annotations = [] } = useAnnotations(project, drawing);
  const { data: snaps } = useSnaps(drawing, inHand !== null);
  const index = useMemo(() => (snaps ? new SnapIndex(snaps) : null), [snaps]);
  const tell = useAnnotate((s) => s.tell);
  const id = drawing?.id;
  useEffect(() => {
    if (id !== undefined && view) tell(id, view.touched);
  }, [id, view, tell]);
  const visible = drawing?.style.annotations ?? true;
  const shapes = useMemo(() => (visible ? annotations.map(shapeOf) : []), [annotations, visible]);
  const active =
    inHand !== null && drawing !== undefined && (inHand.drawing === null || inHand.drawing === drawing.id);
  const take = (part: Partial<Annotate>) => {
    const now = annotate.now();
    if (now) annotate.set({ ...now, ...part });
  };

  const pickAt = ({ paper, zoom, shift }: PaperPointer): Pick => {
    const at: Place = [paper.x * scale, paper.y * scale];
    const snap = index?.near(at, (REACH / zoom) * scale) ?? null;
    if (snap) return { at: snap.at, snap };
    const last = picks.at(-1)?.at;
    return { at: shift && last ? straight(last, at) : at, snap: null };
  };

  const done = () => take(CLEAN);
  const add = async (spots: SpotIn[], document: Draft) => {
    if (!drawing) return;
    done();
    await addAnnotation(project, drawing.id, spots, document);
  };

  const finish = (all: Pick[], place: Pick | undefined, reach: number) => {
    if (!tool || !drawing) return;
    const at = place?.at ?? ([0, 0] as Place);
    const refs = all.map((p) => spotOf(p, reach));
    const points = [at];
    switch (tool) {
      case "note":
        state.setEditing({ drawing: drawing.id, id: null, text: "", at, tips: all });
        done();
        return;
      case "layer note":
        return add([{ ...(refs[0] as SpotIn), only: ["inside"] }], {
          kind: "layer note",
          points,
          align: at[0] >= (all[0]?.at[0] ?? 0) ? "left" : "right",
        });
      case "label":
        return add([{ ...(refs[0] as SpotIn), only: ["inside"] }], { kind: "label", points, says: ["name"] });
      case "dimension":
      case "running":
        return add(refs, {
          kind: "dimension",
          form: tool === "running" ? "running" : "chain",
          points,
          direction: directionOf(
            options.way,
            all.map((p) => p.at),
            at,
          ),
        });
      case "angle":
      case "radius":
      case "spot level":
        return add(refs, { kind: tool, points });
      case "slope":
        return add(refs, { kind: "slope", points, as: options.slope });
      case "symbol":
        return add([tieOf(at, TIE * scale)], { kind: "symbol", symbol: options.symbol, points });
      case "picture": {
        if (!options.picture) {
          toast("Choose a picture first.");
          return;
        }
        const wide = PICTURE * scale;
        const corner: Place = [at[0] + wide, at[1] + wide * options.picture.share];
        return add([tieOf(at, TIE * scale)], {
          kind: "picture",
          image: options.picture.name,
          points: [at, corner],
        });
      }
    }
  };

  const endLine = (all: Pick[]) => {
    if (!tool || !drawing) return;
    const wanted = pointsOf(tool, options.form) ?? STEPS[tool].lines ?? 2;
    if (all.length < wanted) {
      toast(`This needs ${wanted} points; nothing was made.`);
      return;
    }
    const points = all.map((p) => p.at);
    if (tool === "mask") {
      done();
      void touchUp(drawing.id, { act: "mask", ring: points });
    } else if (tool === "area") {
      const form = options.form === "rectangle" || options.form === "spline" ? options.form : "polyline";
      void add([tieOf(points[0] as Place, TIE * scale)], {
        kind: "area",
        form,
        points,
        hatch: options.hatch,
        masks: options.masks,
      });
    } else
      void add([tieOf(points[0] as Place, TIE * scale)], {
        kind: "line",
        form: options.form,
        points,
        line_type: options.lineType,
      });
  };

  const style =
    tool === "restyle"
      ? { ink: options.ink, width: options.width }
      : tool === "hatch"
        ? { hatch: options.hatch }
        : {};

  const touch = async (pick: Pick, alt: boolean, reach: number) => {
    if (!tool || !drawing) return;
    if (tool === "cut back") {
      const [from] = picks;
      if (!from) take({ drawing: drawing.id, picks: [pick] });
      else {
        done();
        await touchUp(drawing.id, { act: "cut back", at: from.at, to: pick.at, reach });
      }
      return;
    }
    if (tool === "hide" || tool === "restyle" || tool === "hatch")
      await touchUp(drawing.id, { act: tool, at: pick.at, reach, faces: alt || tool === "hatch", style });
  };

  const onClick = (pointer: PaperPointer) => {
    if (!tool || !drawing) return;
    const pick = pickAt(pointer);
    const reach = (REACH / pointer.zoom) * scale;
    const steps = STEPS[tool];
    const next = [...picks, pick];
    if (steps.lines !== undefined) {
      const end = pointsOf(tool, options.form);
      if (end === next.length) endLine(next);
      else take({ drawing: drawing.id, picks: next });
    } else if (steps.many) {
      if (pick.snap) take({ drawing: drawing.id, picks: next });
      else if (picks.length >= steps.refs) finish(picks, pick, reach);
      else toast("Click a corner, an end, a side, a level or a grid line.", { id: "reference" });
    } else if (steps.place) {
      if (picks.length < steps.refs) take({ drawing: drawing.id, picks: next });
      else finish(picks, pick, reach);
    } else void touch(pick, pointer.alt, reach);
  };

  /** Where a place of the drawing stands on its paper, as shapes do. */
  const onPaper = (p: Spot): Spot => (view?.folds ? folded(view.folds, p) : p);
  const chosen = state.chosen?.drawing === drawing?.id ? (state.chosen?.ids ?? []) : [];
  return {
    /** Whether the tool in hand works here. */
    active,
    tool,
    shapes,
    /** The paper that holds the drawing and its annotations. */
    page: useMemo(() => pageOf(view, shapes), [view, shapes]),
    chosen: annotations.filter((a) => chosen.includes(a.id)),
    index,
    onClick,
    onMove: (pointer: PaperPointer) => take({ pointer: pickAt(pointer) }),
    /** Enter ends a line, or places what has all its references where the pointer is; whether it was used. */
    onEnter: (): boolean => {
      if (!tool || picks.length === 0 || inHand?.drawing !== drawing?.id) return false;
      if (STEPS[tool].lines !== undefined) endLine(picks);
      else if (STEPS[tool].many && pointer && picks.length >= STEPS[tool].refs) finish(picks, pointer, 1);
      return true;
    },
    onDoubleClick: () => {
      // the second click put a point where the first one had
      if (tool && STEPS[tool].lines !== undefined && picks.length > 1) endLine(picks.slice(0, -1));
    },
    /** A tool takes what lies in a box. */
    onBox: (from: Spot, to: Spot) => {
      if (!tool || !drawing || !WINDOWED.includes(tool)) return;
      void touchUp(drawing.id, {
        act: tool as "hide" | "restyle" | "hatch",
        box: [from.x * scale, from.y * scale, to.x * scale, to.y * scale],
        whole: to.x > from.x,
        style,
      });
    },
    /** Edit the words of the note at a place, if there is one. */
    edit: (pointer: PaperPointer) => {
      const hit = shapeAt(shapes, onPaper(pointer.paper), REACH / pointer.zoom);
      if (!hit || !drawing || hit.document.kind !== "note") return;
      const { text, points } = hit.document;
      state.setEditing({ drawing: drawing.id, id: hit.id, text, at: points[0] as Place, tips: [] });
    },
    /** Choose the annotation at a place; whether there is one. */
    choose: (pointer: PaperPointer): boolean => {
      const hit = shapeAt(shapes, onPaper(pointer.paper), REACH / pointer.zoom);
      if (!hit || !drawing) {
        state.choose(null);
        return false;
      }
      const others = pointer.shift ? chosen : [];
      const ids = others.includes(hit.id) ? others.filter((id) => id !== hit.id) : [...others, hit.id];
      state.choose({ drawing: drawing.id, ids });
      return true;
    },
    /** Choose the annotations in a box; whether there are any. */
    chooseIn: (from: Spot, to: Spot): boolean => {
      if (!drawing) return false;
      const ids = shapesIn(shapes, onPaper(from), onPaper(to), to.x > from.x);
      state.choose({ drawing: drawing.id, ids });
      return ids.length > 0;
    },
  };
}

function pageOf(view: View | null, shapes: Shape[]): Frame | undefined {
  if (!view) return undefined;
  const boxes = [view.page, ...shapes.filter((s) => s.of.shown).map((s) => s.of.box as Frame)];
  const side = (k: 0 | 1 | 2 | 3, least: boolean) => {
    const all = boxes.map((b) => b[k]);
    return least ? Math.min(...all) : Math.max(...all);
  };
  return [side(0, true), side(1, true), side(2, false), side(3, false)];
}

export type Annotating = ReturnType<typeof useAnnotating>;

/** A place of the drawing on screen. */
export const onScreen = (camera: Camera, [u, v]: Place, scale: number): Spot =>
  toScreen(camera, { x: u / scale, y: v / scale });
