import { useEffect, useRef } from "react";
import type { Sheet } from "../api/client";
import { useSheetPicture } from "../desk/use-sheet-picture";
import { paint } from "../drawing/canvas/paint";
import type { Frame } from "../drawing/screen-form";

const WIDE = 94; // pixels
const HIGH = 62;
const AIR = 12; // mm around what is shown

/** A small picture of a place on a sheet, or of all of it. */
export function SheetCutting({ sheet, box }: { sheet: Sheet; box: Frame | null }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { data: view } = useSheetPicture(sheet);
  useEffect(() => {
    if (!canvas.current || !view) return;
    const [l, b, r, t] = box
      ? [box[0] - AIR, box[1] - AIR, box[2] + AIR, box[3] + AIR]
      : [0, 0, sheet.width, sheet.height];
    const zoom = Math.min(WIDE / (r - l), HIGH / (t - b));
    const left = (l + r) / 2 - WIDE / 2 / zoom;
    const top = (b + t) / 2 + HIGH / 2 / zoom;
    paint(canvas.current, view, { left, top, zoom });
  }, [view, box, sheet.width, sheet.height]);
  return <canvas ref={canvas} aria-hidden style={{ width: WIDE, height: HIGH }} />;
}
