import { useEffect, useMemo } from "react";
import { toast } from "sonner";
import { addAnnotation, addCrossed, touchUp, useAnnotations, useSnaps } from "../api/annotations";
import type { Drawing } from "../api/client";
import { goesOnIn } from "../desk/mode";
import { type Camera, type Spot, toScreen } from "../drawing/camera";
import type { PaperPointer } from "../drawing/canvas/DrawingCanvas";
import { folded } from "../drawing/folds";
import type { Frame, View } from "../drawing/screen-form";
import type { Doing } from "./kinds/kind";
import { isComplete, kindOf, pointsOf } from "./kinds/kinds";
import { type Shape, shapeAt, shapeOf, shapesIn } from "./on-paper/shapes";
import { SnapIndex } from "./snap-index";
import { useAnnotate } from "./state";
import { straight } from "./steps";
import { type Annotate, annotate, CLEAN, type Pick, type Place } from "./tools";

const REACH = 9; // pixels about the pointer

/** Clicks in a pane that annotate its drawing or touch it up, and that choose what is there. */
export function useAnnotating(
  project: number,
  drawing: Drawing | undefined,
  view: View | null,
  scale: number,
) {
  const state = useAnnotate();
  const inHand = annotate.useHeld();
  const { picks = [], pointer = null } = inHand ?? {};
  const kind = kindOf(inHand?.tool);
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
  const active = inHand !== null && goesOnIn(inHand, drawing);
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
  /** What the tool works with in this drawing. */
  const doing = (here: Drawing, reach: number): Doing => ({
    drawing: here,
    scale,
    options,
    reach,
    add: (spots, document) => {
      done();
      void addAnnotation(project, here.id, spots, document);
    },
    cross: (line) => {
      done();
      void addCrossed(project, here.id, line);
    },
    write: (at, tips) => {
      state.setEditing({ drawing: here.id, id: null, text: "", at, tips });
      done();
    },
    touch: (wanted) => void touchUp(here.id, wanted),
    wait: (next) => (next.length > 0 ? take({ drawing: here.id, picks: next }) : done()),
  });

  const endLine = (all: Pick[]) => {
    const points = kind && pointsOf(kind, options);
    if (!points || !drawing) return;
    if (all.length < points.least) toast(`This needs ${points.least} points; nothing was made.`);
    else
      kind?.drawn?.finish(
        doing(drawing, 1),
        all.map((p) => p.at),
      );
  };

  const onClick = (pointer: PaperPointer) => {
    if (!kind || !drawing) return;
    const pick = pickAt(pointer);
    const next = [...picks, pick];
    const here = doing(drawing, (REACH / pointer.zoom) * scale);
    const points = pointsOf(kind, options);
    if (points) {
      if (isComplete(points, next.length)) endLine(next);
      else here.wait(next);
    } else if (kind.refers) {
      const { refs, many, finish } = kind.refers;
      if (many ? pick.snap : picks.length < refs) here.wait(next);
      else if (picks.length >= refs) finish(here, picks, pick.at);
      else toast("Click a corner, an end, a side, a level or a grid line.", { id: "reference" });
    } else kind.touches?.(here, next, pointer.alt);
  };

  /** Where a place of the drawing stands on its paper, as shapes do. */
  const onPaper = (p: Spot): Spot => (view?.folds ? folded(view.folds, p) : p);
  const chosen = state.chosen?.drawing === drawing?.id ? (state.chosen?.ids ?? []) : [];
  return {
    /** Whether the tool in hand works here. */
    active,
    shapes,
    /** The paper that holds the drawing and its annotations. */
    page: useMemo(() => pageOf(view, shapes), [view, shapes]),
    chosen: annotations.filter((a) => chosen.includes(a.id)),
    index,
    onClick,
    onMove: (pointer: PaperPointer) => take({ pointer: pickAt(pointer) }),
    /** Enter ends a line, or places what has all its references where the pointer is; whether it was used. */
    onEnter: (): boolean => {
      if (!kind || !drawing || picks.length === 0 || inHand?.drawing !== drawing.id) return false;
      if (kind.drawn) endLine(picks);
      else if (kind.refers?.many && pointer && picks.length >= kind.refers.refs)
        kind.refers.finish(doing(drawing, 1), picks, pointer.at);
      return true;
    },
    onDoubleClick: () => {
      // the second click put a point where the first one had
      if (kind?.drawn && picks.length > 1) endLine(picks.slice(0, -1));
    },
    /** A tool takes what lies in a box. */
    onBox: (from: Spot, to: Spot) => {
      if (drawing)
        kind?.window?.(
          doing(drawing, 1),
          [from.x * scale, from.y * scale, to.x * scale, to.y * scale],
          to.x > from.x,
        );
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
