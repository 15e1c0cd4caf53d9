"""The faces that texts are drawn in: the drawing face, and those that stand in for letters which it does not have."""

from __future__ import annotations

import json
from bisect import bisect_right
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Literal

import uharfbuzz

DRAWING = "lettering"


@dataclass(frozen=True)
class Face:
    """`family`: its name in pages and files; `capitals`: their height, in ems, which a text height is (ISO 3098)."""

    name: str
    family: str
    file: str
    capitals: float


# the weights are those whose stems are nearest to the drawing face's; of several that have a letter the first is taken
FACES: dict[str, Face] = {
    face.name: face
    for face in (
        Face(DRAWING, "Edge Slice Lettering", "routed-gothic", 736 / 1024),
        Face("sans", "Edge Slice Sans", "sans", 0.714),
        Face("hebrew", "Edge Slice Hebrew", "hebrew", 0.714),
        Face("arabic", "Edge Slice Arabic", "arabic", 0.714),
        Face("thai", "Edge Slice Thai", "thai", 0.714),
        Face("devanagari", "Edge Slice Devanagari", "devanagari", 0.714),
        Face("cjk", "Edge Slice CJK", "cjk", 0.733),
    )
}


def font_bytes(face: str = DRAWING, form: Literal["ttf", "woff"] = "ttf") -> bytes:
    """The font file of a face (SIL Open Font License): as TrueType; the drawing face packed for pages, too."""
    return _file(f"{FACES[face].file}.{form}")


@cache
def drawing_measures() -> dict[str, float]:
    """Advance of each letter of the drawing face, in ems: read from a small file, since most drawings need no more of
    any font."""
    measures = json.loads(_file("measures.json"))
    em = float(measures["em"])
    return {c: float(a) / em for a, letters in measures["advances"].items() for c in letters}


@cache
def _coverage() -> dict[str, list[tuple[int, int]]]:
    said = json.loads(_file("coverage.json"))
    return {face: [(low, high) for low, high in ranges] for face, ranges in said.items()}


def covers(face: str, letter: str) -> bool:
    """Whether a face has a letter."""
    if face == DRAWING:
        return letter in drawing_measures()
    ranges, code = _coverage()[face], ord(letter)
    k = bisect_right(ranges, code, key=lambda r: r[0]) - 1
    return k >= 0 and code <= ranges[k][1]


@cache
def face_of(letter: str) -> str | None:
    """The face that a letter is drawn in; None where no face has it."""
    return next((name for name in FACES if covers(name, letter)), None)


@cache
def shaper(face: str) -> uharfbuzz.Font:
    """The font for shaping; its scale is its own units in an em."""
    return uharfbuzz.Font(uharfbuzz.Face(font_bytes(face)))


def face_size(face: str, height: float) -> float:
    """Size of the em for a text height, which is that of its capitals (ISO 3098)."""
    return height / FACES[face].capitals


def _file(name: str) -> bytes:
    return resources.files("edge_slice.core.drawing").joinpath("fonts", name).read_bytes()
