"""Texts as outputs draw them: where each run of a label stands, and fonts with the letters that a file needs."""

from __future__ import annotations

import io
import unicodedata
from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

from fontTools import subset
from fontTools.ttLib import TTFont

from edge_slice.core.drawing.display import Label
from edge_slice.core.drawing.faces import DRAWING, face_size, font_bytes
from edge_slice.core.drawing.texts.typesetting import Run, is_plain, runs_of_text, text_width

KEPT = 64  # subsets that are remembered


@dataclass(frozen=True)
class PlacedRun:
    """A run of a label: `x` from its point along the base line, and the size of the face's em, mm."""

    run: Run
    x: float
    size: float


def placed_runs(label: Label) -> list[PlacedRun]:
    """The runs of a label from left to right."""
    wide = text_width(label.text, label.height)
    start = {"left": 0.0, "centre": -wide / 2, "right": -wide}[label.align]
    return [
        PlacedRun(run, start + run.start * label.height, face_size(run.face, label.height))
        for run in runs_of_text(label.text)
    ]


def letters_by_face(labels: Iterable[Label]) -> dict[str, frozenset[str]]:
    """Which letters of which faces some labels need; of the drawing face only that it is needed."""
    found: dict[str, set[str]] = {}
    for label in labels:
        for run in () if is_plain(label.text) else runs_of_text(label.text):
            found.setdefault(run.face, set()).update(run.text)
        if is_plain(label.text):
            found.setdefault(DRAWING, set())
    return {face: frozenset(letters) for face, letters in found.items()}


@lru_cache(KEPT)
def face_subset(face: str, letters: frozenset[str]) -> bytes:
    """A face with some letters and all the forms that they take beside one another, packed for pages (WOFF)."""
    options = subset.Options(layout_features=["*"], hinting=False, notdef_outline=True, recalc_timestamp=False)
    font = TTFont(io.BytesIO(font_bytes(face)), recalcTimestamp=False)
    subsetter = subset.Subsetter(options)
    parts = {p for c in letters for p in unicodedata.normalize("NFKD", c)}  # shapers take some letters apart
    subsetter.populate(unicodes=[ord(c) for c in letters | parts | {" "}])
    subsetter.subset(font)
    font.flavor = "woff"
    stream = io.BytesIO()
    font.save(stream)
    return stream.getvalue()


def is_spelled_out(run: Run, known: dict[int, int]) -> bool:
    """Whether a run's glyphs are those of its letters, one for one, each at its advance: `known` are the glyphs of
    letters. Others have forms or places of their own."""
    order = reversed(run.text) if run.leftwards else run.text
    plain = [known.get(ord(c), -1) for c in order]
    return plain == [g.number for g in run.glyphs] and not any(g.dx or g.dy for g in run.glyphs)


def places_of_glyphs(run: Run) -> list[tuple[int, float, float]]:
    """Number and place of each glyph of a run, ems from its start."""
    at = [0.0]
    for glyph in run.glyphs:
        at.append(at[-1] + glyph.advance)
    return [(g.number, x + g.dx, g.dy) for g, (x, _) in zip(run.glyphs, pairwise(at), strict=True)]
