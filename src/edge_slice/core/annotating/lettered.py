"""Blocks of text and the leaders that lead from them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.annotating.board import Board
from edge_slice.core.drawing.display import Item, Label, circle, paths_of
from edge_slice.core.drawing.texts.lettering import text_width

F64 = NDArray[np.float64]
BESIDE = 1.2  # mm between a leader and its text
Align = Literal["left", "right"]


@dataclass(frozen=True)
class Block:
    """Lines of text beside a point (2,): to its right (`left` aligned) or left; the middle of the first line stands at
    its height."""

    lines: list[str]
    at: F64
    height: float
    align: Align
    spacing: float

    def labels(self, board: Board, role: str = "note") -> list[Item]:
        side = 1.0 if self.align == "left" else -1.0
        x, y = float(self.at[0]) + side * BESIDE, float(self.at[1]) - self.height / 2
        ink = board.standard.ink
        return [
            Label(role, line, x, y - k * self.spacing, self.height, ink, self.align)
            for k, line in enumerate(self.lines)
            if line
        ]

    @property
    def wide(self) -> float:
        return max((text_width(line, self.height) for line in self.lines), default=0.0)


def block(board: Board, lines: list[str], at: F64, role: str, align: Align) -> Block:
    height = board.height(role)
    return Block(lines, at, height, align, height * board.rule.line_spacing)


def leader(board: Board, start: F64, tip: F64, align: Align, elbow: bool, end: str) -> list[Item]:
    """From a text's point to a tip: level first where it has an elbow, and with what stands at its end."""
    side = -1.0 if align == "left" else 1.0
    run = [start]
    if elbow:
        run.append(start + np.array([side * board.rule.elbow, 0.0]))
    run.append(tip)
    pen = board.pens["leader"]
    return [paths_of("leader", [np.array(run)], pen), *ending(board, tip, tip - run[-2], end, "leader")]


def ending(board: Board, tip: F64, towards: F64, end: str, role: str) -> list[Item]:
    """What stands at the end of a line that runs `towards` its tip."""
    ink, rule = board.standard.ink, board.rule
    if end == "dot":
        return [paths_of(f"{role} end", [circle(float(tip[0]), float(tip[1]), rule.dot, 20)], None, ink, True)]
    far = float(np.hypot(*towards))
    if end != "arrow" or far < 1e-9:
        return []
    d = towards / far
    n = np.array([-d[1], d[0]])
    back = tip - d * rule.arrow
    return [
        paths_of(
            f"{role} end", [np.array([tip, back + n * rule.arrow / 6, back - n * rule.arrow / 6])], None, ink, True
        )
    ]
