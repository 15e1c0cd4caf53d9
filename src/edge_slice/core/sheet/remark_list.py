"""A list of remarks on paper: each with a picture of its place, what is said, and what was answered."""

from __future__ import annotations

import hashlib
import struct
from collections.abc import Sequence
from dataclasses import dataclass

from edge_slice.core.drawing.display import Box, DisplayList, Image, Item, Label, Pen, paths_of
from edge_slice.core.drawing.texts.text_lines import wrapped

PAGE: Box = (0.0, 0.0, 210.0, 297.0)  # mm: A4 upright (ISO 216)
EDGE, GAP = 15.0, 6.0  # mm around, and between remarks
WIDE, HIGH, BETWEEN = 70.0, 52.5, 2.0  # mm of a picture, and between two
TEXT, SMALL, HEAD, LINE = 2.2, 1.8, 3.0, 1.75  # heights of capitals, mm; lines as a multiple of it
INK, PALE = "#1d2a2e", "#5c6b6f"
RULE = Pen(0.18, PALE)


@dataclass(frozen=True)
class ListedRemark:
    """`head`: its number, and where it is; `about`: by whom, to whom, until when, in what state; `answers`: who, and
    what; `pictures`: PNG, of its place and what was added."""

    head: str
    about: str
    text: str
    answers: tuple[tuple[str, str], ...]
    pictures: tuple[bytes, ...]


def remark_pages(title: str, remarks: Sequence[ListedRemark]) -> list[DisplayList]:
    """The pages of a list, as display lists of `PAGE`; remarks are not parted unless one is longer than a page."""
    pages: list[_Page] = [_Page(title, 1)]
    for one in remarks:
        lines = lines_of(one, PAGE[2] - 2 * EDGE - WIDE - 5.0)
        box = len(one.pictures) * (HIGH + BETWEEN)
        high = max(sum(height * LINE for _, height, _ in lines), box)
        if high > pages[-1].left and not pages[-1].empty:
            pages.append(_Page(title, len(pages) + 1))
        for k, picture in enumerate(one.pictures):
            pages[-1].put_picture(picture, k * (HIGH + BETWEEN))
        top = pages[-1].y
        for text, height, colour in lines:
            if pages[-1].left < height * LINE:
                pages.append(_Page(title, len(pages) + 1))
                top = pages[-1].y
            pages[-1].put_line(text, height, colour)
        if pages[-1].y > top - box:
            pages[-1].y = top - box
        pages[-1].end()
    return [page.shown(len(pages)) for page in pages]


def lines_of(one: ListedRemark, wide: float) -> list[tuple[str, float, str]]:
    """What is said, line by line of so many mm: text, height, colour."""
    said = [(one.head, HEAD * 0.8, INK), (one.about, SMALL, PALE), (one.text, TEXT, INK)]
    for who, text in one.answers:
        said += [(who, SMALL, PALE), *([(text, TEXT, INK)] if text else [])]
    return [
        (line, height, colour)
        for text, height, colour in said
        for part in text.split("\n")
        for line in (wrapped(part, wide, height, parted=True) or [""])
    ]


class _Page:
    def __init__(self, title: str, number: int) -> None:
        self.items: list[Item] = []
        self.images: list[Image] = []
        self.title, self.number = title, number
        self.y = PAGE[3] - EDGE - HEAD * 2
        self.empty = True

    @property
    def left(self) -> float:
        """mm down to the edge."""
        return self.y - EDGE

    def put_picture(self, data: bytes, below: float) -> None:
        """As large as there is room for it, `below` the place where the page goes on."""
        name, top = hashlib.sha256(data).hexdigest(), self.y - below
        wide, high = struct.unpack(">II", data[16:24])  # its size in pixels stands first in a PNG
        share = min(WIDE / wide, HIGH / high)
        box = (EDGE, top - high * share, EDGE + wide * share, top)
        self.images.append(Image("picture", name, box, data=data))
        self.empty = False

    def put_line(self, text: str, height: float, colour: str) -> None:
        self.y -= height * LINE
        self.items.append(Label("note", text, EDGE + WIDE + 5.0, self.y + height * 0.4, height, colour))
        self.empty = False

    def end(self) -> None:
        """A line under a remark."""
        self.y -= GAP / 2
        self.items.append(paths_of("table rule", [[(EDGE, self.y), (PAGE[2] - EDGE, self.y)]], RULE))
        self.y -= GAP / 2

    def shown(self, of: int) -> DisplayList:
        top = PAGE[3] - EDGE
        head = [
            Label("note", self.title, EDGE, top - HEAD, HEAD, INK),
            Label("note", f"{self.number} of {of}", PAGE[2] - EDGE, top - HEAD, TEXT, PALE, "right"),
        ]
        return DisplayList((*head, *self.items), PAGE, images=tuple(self.images))
