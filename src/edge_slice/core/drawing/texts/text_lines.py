"""Long texts in lines: broken between words, between letters of scripts without spaces, and where a word alone is too
long; in a smaller height before anything is lost."""

from __future__ import annotations

import re
from dataclasses import dataclass

from edge_slice.core.drawing.texts.typesetting import text_width

STEP = 1.5  # of the height of capitals, from one line of a name to the next
LEAST = 1.8  # mm; nothing is written smaller (ISO 3098)
SIZES = (7.0, 5.0, 3.5, 2.5, LEAST)
CUT = "…"
# ideographs and kana may be parted anywhere; other letters stay in their words
PIECES = re.compile(r"[\u2e80-\u30ff\u31f0-\u9fff\uf900-\ufaff\uff00-\uffef]|[^\u2e80-\u30ff\u31f0-\u9fff\uf900-\ufaff\uff00-\uffef]+")  # fmt: skip  # noqa: E501


@dataclass(frozen=True)
class Fitted:
    """Lines of a text in a height, mm; `cut`: its end is left out, as it did not fit."""

    lines: tuple[str, ...]
    height: float
    cut: bool = False

    @property
    def high(self) -> float:
        """From the foot of the last line to the head of the first."""
        return self.height * (1 + STEP * (len(self.lines) - 1))


def wrapped(text: str, width: float, height: float, parted: bool = False) -> list[str]:
    """The lines of a text, no wider than `width` mm where its words allow it (0: only its own line breaks); `parted`:
    words that are too long alone are parted."""
    lines: list[str] = []
    for paragraph in text.split("\n"):
        line = ""
        for word in paragraph.split(" "):
            gap = " " if line else ""
            for piece in PIECES.findall(word) or [""]:
                longer = f"{line}{gap}{piece}"
                if line and width > 0 and text_width(longer, height) > width:
                    lines.append(line)
                    line = piece
                else:
                    line = longer
                gap = ""
                while parted and width > 0 and len(line) > 1 and text_width(line, height) > width:
                    head = _head(line, width, height)
                    lines.append(head)
                    line = line[len(head) :]
        lines.append(line)
    return lines


def _head(line: str, width: float, height: float) -> str:
    """As many letters of a line as fit, one at least."""
    low, high = 1, len(line)
    while low < high:
        middle = (low + high + 1) // 2
        low, high = (middle, high) if text_width(line[:middle], height) <= width else (low, middle - 1)
    return line[:low]


def fitted(text: str, width: float, high: float, height: float) -> Fitted:
    """A text within a width and a height (mm): in lines of its own height where they fit, else in the largest of the
    usual heights below it in which they do; what does not fit in the least is cut off, and says so."""
    sizes = [height, *(s for s in SIZES if s < height)]
    for size in sizes:
        found = Fitted(tuple(wrapped(text, width, size, parted=True)), size)
        if found.high <= high + 1e-6 and all(text_width(line, size) <= width + 1e-6 for line in found.lines):
            return found
    size = sizes[-1]
    lines = wrapped(text, width, size, parted=True)
    count = max(1, min(len(lines), int(1 + (high / size - 1) / STEP + 1e-6)))
    last = lines[count - 1]
    if count == len(lines) and text_width(last, size) <= width:
        return Fitted(tuple(lines), size)
    while last and text_width(last + CUT, size) > width:
        last = last[:-1]
    return Fitted((*lines[: count - 1], last.rstrip() + CUT), size, cut=True)


def cut_short(text: str) -> str:
    """What is said of a text whose end was left out."""
    return f"“{text}” does not fit in its place, and is cut off; give it a shorter one, or more room."
