"""Colours mixed: every tile of a drawing has one opaque colour, which all kinds of file can show."""

from __future__ import annotations

WHITE = "#ffffff"
# muted tints that are told apart, for kinds and storeys
TINTS = (
    "#e3d3bd", "#c9d6cf", "#d8d0e0", "#e6d9a8", "#c6d3e2", "#e2c6bd", "#cfd9b8", "#d5cabf", "#bcd2d3", "#e4d0d6",
    "#d2d2c4", "#c8c3b4",
)  # fmt: skip


def mixed(colour: str, other: str, share: float) -> str:
    """A colour with a share (0 to 1) of another one in it.

    >>> mixed("#000000", "#ffffff", 0.5)
    '#808080'
    """
    a, b = bytes.fromhex(colour[1:]), bytes.fromhex(other[1:])
    return "#" + bytes(round(x + (y - x) * share) for x, y in zip(a, b, strict=True)).hex()
