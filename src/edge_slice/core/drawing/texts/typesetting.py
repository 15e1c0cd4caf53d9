"""Texts as they are set: in runs of one face and one direction, from left to right as they stand on paper.

Directions by the Unicode bidirectional algorithm (UAX 9, python-bidi), shapes by HarfBuzz. Letters that no face has are
written as their code."""

from __future__ import annotations

import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import groupby
from typing import Any

import uharfbuzz
from bidi import algorithm
from bidi.mirror import MIRRORED

from edge_slice.core.drawing.faces import DRAWING, FACES, covers, drawing_measures, face_of, shaper

KEPT = 20_000  # texts whose runs are remembered
# directions that are said by invisible signs are left out: a line has the one of its first letter
CONTROLS = dict.fromkeys([0x200E, 0x200F, 0x061C, *range(0x202A, 0x202F), *range(0x2066, 0x206A)])
OPENING = {"(": ")", "[": "]", "{": "}"}
CLOSING = frozenset(OPENING.values())
SELECTORS = range(0xFE00, 0xFE10)  # of variants that no face has


@dataclass(frozen=True)
class Glyph:
    """A shaped glyph: its number in the face, its advance and where it is moved by, in ems."""

    number: int
    advance: float
    dx: float
    dy: float


@dataclass(frozen=True)
class Run:
    """A stretch of a text in one face. `text` is in the order of reading but in the drawing face, where it is in that
    of the paper; `leftwards`: it is read from right to left. `start` and `width` are in text heights, from the left end
    of the text. Of other faces `glyphs` are those shown, from left to right."""

    face: str
    text: str
    leftwards: bool
    start: float
    width: float
    glyphs: tuple[Glyph, ...] = ()


def is_plain(text: str) -> bool:
    """Whether all letters of a text are in the drawing face."""
    measures = drawing_measures()
    return all(c in measures for c in text)


def text_width(text: str, height: float) -> float:
    """Width in the unit of `height`."""
    measures = drawing_measures()
    try:
        return sum([measures[c] for c in text]) * height / FACES[DRAWING].capitals
    except KeyError:
        runs = runs_of_text(text)
        return (runs[-1].start + runs[-1].width) * height if runs else 0.0


def missing_letters(text: str) -> list[str]:
    """The letters of a text that no face has, each once."""
    return sorted({c for c in text if c != "\n" and ord(c) not in CONTROLS and _needed(c) and face_of(c) is None})


def spelled_out(text: str) -> str:
    """What is wrong with a text of which no face has all letters; empty where nothing is."""
    missing = missing_letters(text)
    if not missing:
        return ""
    codes = ", ".join(f"U+{ord(c):04X}" for c in missing)
    return f"“{text}” has letters that no face has, and shows their codes: {codes}."


def _needed(letter: str) -> bool:
    return ord(letter) not in SELECTORS


@lru_cache(KEPT)
def runs_of_text(text: str) -> tuple[Run, ...]:
    """A line of text in runs, from left to right on paper."""
    text = _spelled(unicodedata.normalize("NFC", text).translate(CONTROLS))
    if not text:
        return ()
    if is_plain(text):
        return (Run(DRAWING, text, False, 0.0, _measured(text)),)
    faces, levels = _faces(text), _levels(text)
    stretches = []
    for (face, level), part in groupby(range(len(text)), key=lambda k: (faces[k], levels[k])):
        places = list(part)
        stretches.append((face, level, text[places[0] : places[-1] + 1]))
    runs: list[Run] = []
    at = 0.0
    for face, level, said in _in_visual_order(stretches):
        run = _run(face, said, level % 2 == 1, at)
        runs.append(run)
        at += run.width
    return tuple(runs)


def _spelled(text: str) -> str:
    """A text with the code of each letter that no face has, in its place."""
    return "".join(c if face_of(c) is not None else f"[U+{ord(c):04X}]" for c in text if _needed(c))


def _faces(text: str) -> list[str]:
    """The face of each letter. A word that the drawing face does not have all letters of is set in one that has them
    all, so that it is of one hand; a mark is in the face of its letter, and a space between two words of one face in
    theirs."""
    faces = [face_of(c) or DRAWING for c in text]
    for is_word, part in groupby(range(len(text)), key=lambda k: unicodedata.category(text[k])[0] in "LM"):
        places = list(part)
        used = {faces[k] for k in places}
        if not is_word or used == {DRAWING}:
            continue
        for face in sorted(used - {DRAWING}, key=list(FACES).index):
            if all(covers(face, text[k]) for k in places):
                for k in places:
                    faces[k] = face
                break
        for k in places[1:]:
            if unicodedata.category(text[k]) == "Mn" and covers(faces[k - 1], text[k]):
                faces[k] = faces[k - 1]
    for k in range(1, len(text) - 1):
        before, after = faces[k - 1], next((faces[j] for j in range(k + 1, len(text)) if text[j] != " "), DRAWING)
        if text[k] == " " and before == after != DRAWING and covers(before, " "):
            faces[k] = before
    return faces


def _levels(text: str) -> list[int]:
    """The embedding level of each letter (UAX 9): odd where it is read from right to left."""
    storage = algorithm.get_empty_storage()
    base = algorithm.get_base_level(text)
    storage["base_level"], storage["base_dir"] = base, ("L", "R")[base]
    algorithm.get_embedding_levels(text, storage)
    algorithm.explicit_embed_and_overrides(storage)
    algorithm.resolve_weak_types(storage)
    _resolve_brackets(storage["chars"])
    algorithm.resolve_neutral_types(storage, False)
    algorithm.resolve_implicit_levels(storage, False)
    levels = [int(c["level"]) for c in storage["chars"]]
    return levels if len(levels) == len(text) else [base] * len(text)


def _resolve_brackets(chars: Sequence[dict[str, Any]]) -> None:
    """Rule N0 of UAX 9, which the library leaves out: both brackets of a pair go the way of what stands in them, or
    before them."""
    sides = {"L": 0, "R": 1, "EN": 1, "AN": 1}
    opened: list[int] = []
    pairs: list[tuple[int, int]] = []
    for k, char in enumerate(chars):
        if char["ch"] in OPENING:
            opened.append(k)
        elif char["ch"] in CLOSING:
            match = next((j for j in reversed(opened) if OPENING[chars[j]["ch"]] == char["ch"]), None)
            if match is not None:
                del opened[opened.index(match) :]
                pairs.append((match, k))
    for start, end in sorted(pairs):
        own = int(chars[start]["level"]) % 2
        inside = {sides[c["type"]] for c in chars[start + 1 : end] if c["type"] in sides}
        if not inside:
            continue
        before = next((sides[c["type"]] for c in reversed(chars[:start]) if c["type"] in sides), own)
        side = own if own in inside else before if before != own else own
        chars[start]["type"] = chars[end]["type"] = "LR"[side]


def _in_visual_order(stretches: list[tuple[str, int, str]]) -> list[tuple[str, int, str]]:
    """Rule L2 of UAX 9 for stretches of one level each."""
    ordered = list(stretches)
    levels = [level for _, level, _ in ordered]
    for level in range(max(levels), min((x for x in levels if x % 2), default=max(levels) + 1) - 1, -1):
        k = 0
        while k < len(ordered):
            end = k
            while end < len(ordered) and ordered[end][1] >= level:
                end += 1
            ordered[k:end] = reversed(ordered[k:end])
            k = max(end, k + 1)
    return ordered


def _run(face: str, text: str, leftwards: bool, start: float) -> Run:
    if face == DRAWING:
        if leftwards:  # signs between words: turned over, as a shaper does with those of other faces
            text = "".join(MIRRORED.get(c, c) for c in reversed(text))
        return Run(face, text, False, start, _measured(text))
    font = shaper(face)
    buffer = uharfbuzz.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    buffer.direction = "rtl" if leftwards else "ltr"
    uharfbuzz.shape(font, buffer)
    em = font.face.upem
    glyphs = tuple(
        Glyph(info.codepoint, place.x_advance / em, place.x_offset / em, place.y_offset / em)
        for info, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True)
    )
    width = sum(g.advance for g in glyphs) / FACES[face].capitals
    return Run(face, text, leftwards, start, width, glyphs)


def _measured(text: str) -> float:
    measures = drawing_measures()
    return sum([measures[c] for c in text]) / FACES[DRAWING].capitals
