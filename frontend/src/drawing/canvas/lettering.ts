/** Texts on a canvas: in the drawing face, or in runs of the faces that have their letters, as the core set them. */

export type SetRun = { family: string; text: string; leftwards: boolean; x: number; size: number };
export type Lettered = {
  text: string;
  size: number;
  align: "left" | "centre" | "right";
  runs?: SetRun[] | null;
};

const DRAWING = "Edge Slice Lettering";
const wanted = new Set<string>();
const waiting = new Set<() => void>();

/** Tell when a face that was asked for has come: what was painted without it is painted again. */
export function onLettered(listener: () => void): () => void {
  waiting.add(listener);
  return () => {
    waiting.delete(listener);
  };
}

/** Ask for the letters of a face, once; they come from the application, so they are there soon. */
function ask(font: string, text: string) {
  const key = `${font} ${text}`;
  if (wanted.has(key)) return;
  wanted.add(key);
  document.fonts.load(font, text).then((faces) => {
    if (faces.length > 0) for (const listener of waiting) listener();
  });
}

/** A text at the origin of the context, `size` units large. */
export function letter(context: CanvasRenderingContext2D, of: Lettered, size: number) {
  if (!of.runs) {
    context.font = `${size}px "${DRAWING}"`;
    context.textAlign = of.align === "centre" ? "center" : of.align;
    context.fillText(of.text, 0, 0);
    return;
  }
  const grown = size / of.size;
  context.textAlign = "left";
  for (const run of of.runs) {
    const font = `${run.size * grown}px "${run.family}"`;
    ask(`12px "${run.family}"`, run.text);
    context.font = font;
    context.direction = run.leftwards ? "rtl" : "ltr";
    context.fillText(run.text, run.x * grown, 0);
  }
  context.direction = "ltr";
}
