"""Texts of a PDF page: embedded subsets of the faces; letters can be looked for and copied in the order of reading.

Runs whose letters take other forms or places beside one another (Arabic, Devanagari, marks of Thai) are drawn as their
shapes, with the letters themselves over them in the mode that paints nothing (ISO 32000-1, 9.3.6)."""

from __future__ import annotations

import io
from functools import cache, lru_cache
from typing import Any

from fontTools.pens.basePen import BasePen
from fontTools.ttLib import TTFont as FontFile
from reportlab.lib.colors import HexColor
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from edge_slice.core.drawing.display import Label
from edge_slice.core.drawing.faces import DRAWING, font_bytes
from edge_slice.core.drawing.texts.lettering import font_size
from edge_slice.core.drawing.texts.typesetting import is_plain
from edge_slice.core.render.lettered import PlacedRun, is_spelled_out, placed_runs, places_of_glyphs

FONT = "EdgeSliceLettering"
UNSEEN = 3  # text rendering mode
Outline = tuple[tuple[str, tuple[float, ...]], ...]


def font_of(face: str = DRAWING) -> str:
    """The name of a face in PDF pages, once it can be used."""
    name = FONT if face == DRAWING else f"{FONT}-{face}"
    _registered(name, face)
    return name


@cache
def _registered(name: str, face: str) -> None:
    pdfmetrics.registerFont(TTFont(name, io.BytesIO(font_bytes(face)), shapable=False))


def draw_label(canvas: Canvas, item: Label) -> None:
    canvas.saveState()
    canvas.translate(item.x, item.y)
    if item.angle:
        canvas.rotate(item.angle)
    canvas.setFillColor(HexColor(item.colour))
    if is_plain(item.text):
        canvas.setFont(font_of(), font_size(item.height))
        draw = {"left": canvas.drawString, "centre": canvas.drawCentredString, "right": canvas.drawRightString}
        draw[item.align](0, 0, item.text)
    else:
        for placed in placed_runs(item):
            _run(canvas, placed)
    canvas.restoreState()


def _run(canvas: Canvas, placed: PlacedRun) -> None:
    run = placed.run
    if run.face == DRAWING:
        canvas.setFont(font_of(), placed.size)
        canvas.drawString(placed.x, 0, run.text)
        return
    canvas.setFont(font_of(run.face), placed.size)
    letters = run.text[::-1] if run.leftwards else run.text  # readers of PDF expect letters as they stand on paper
    if is_spelled_out(run, _glyphs_of_letters(run.face)):
        canvas.drawString(placed.x, 0, letters)
        return
    path = canvas.beginPath()
    for number, x, y in places_of_glyphs(run):
        _trace(path, _outline(run.face, number), placed.x + x * placed.size, y * placed.size, placed.size)
    canvas.drawPath(path, stroke=0, fill=1)
    canvas.saveState()  # the mode would go on
    text = canvas.beginText(placed.x, 0)
    text.setTextRenderMode(UNSEEN)
    natural = pdfmetrics.stringWidth(letters, font_of(run.face), placed.size)
    if natural > 0:
        text.setHorizScale(100.0 * sum(g.advance for g in run.glyphs) * placed.size / natural)
    text.textOut(letters)
    canvas.drawText(text)
    canvas.restoreState()


@cache
def _font(face: str) -> FontFile:
    return FontFile(io.BytesIO(font_bytes(face)))


@cache
def _glyphs_of_letters(face: str) -> dict[int, int]:
    font = _font(face)
    return {code: font.getGlyphID(name) for code, name in font.getBestCmap().items()}


class _OutlinePen(BasePen):  # type: ignore[misc]
    """Writes an outline down, in ems."""

    def __init__(self, shapes: Any, em: float) -> None:
        super().__init__(shapes)
        self.steps: list[tuple[str, tuple[float, ...]]] = []
        self._em = em

    def _add(self, what: str, *points: tuple[float, float]) -> None:
        self.steps.append((what, tuple(c / self._em for p in points for c in p)))

    def _moveTo(self, pt: tuple[float, float]) -> None:
        self._add("moveTo", pt)

    def _lineTo(self, pt: tuple[float, float]) -> None:
        self._add("lineTo", pt)

    def _curveToOne(self, pt1: tuple[float, float], pt2: tuple[float, float], pt3: tuple[float, float]) -> None:
        self._add("curveTo", pt1, pt2, pt3)

    def _closePath(self) -> None:
        self._add("close")


@lru_cache(4000)
def _outline(face: str, number: int) -> Outline:
    font = _font(face)
    shapes = font.getGlyphSet()
    pen = _OutlinePen(shapes, font["head"].unitsPerEm)
    shapes[font.getGlyphName(number)].draw(pen)
    return tuple(pen.steps)


def _trace(path: Any, outline: Outline, x: float, y: float, size: float) -> None:
    for what, numbers in outline:
        placed = [n * size + (y if k % 2 else x) for k, n in enumerate(numbers)]
        getattr(path, what)(*placed)
