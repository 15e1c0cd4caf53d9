"""The drawing face: one font file for screen, SVG and PDF, and its measures."""

from __future__ import annotations

import io
from functools import cache
from importlib import resources

from fontTools import subset
from fontTools.ttLib import TTFont

FAMILY = "Edge Slice Lettering"


def font_bytes() -> bytes:
    """The TrueType file (Routed Gothic, SIL Open Font License)."""
    return resources.files("edge_slice.core.drawing").joinpath("fonts/routed-gothic.ttf").read_bytes()


@cache
def _metrics() -> tuple[dict[int, float], float]:
    font = TTFont(io.BytesIO(font_bytes()), lazy=True)
    em = float(font["head"].unitsPerEm)
    advances = {code: font["hmtx"][name][0] / em for code, name in font.getBestCmap().items()}
    capitals = float(getattr(font["OS/2"], "sCapHeight", 0)) or 0.7 * em
    return advances, capitals / em


def font_size(height: float) -> float:
    """Size of the em for a text height, which is that of its capitals (ISO 3098)."""
    return height / _metrics()[1]


def text_width(text: str, height: float) -> float:
    """Width in the unit of `height`."""
    advances, _ = _metrics()
    return sum(advances.get(ord(c), 0.5) for c in text) * font_size(height)


def font_subset(text: str) -> bytes:
    """The font with only the glyphs of `text`, the same bytes for the same text."""
    font = TTFont(io.BytesIO(font_bytes()), recalcTimestamp=False)
    options = subset.Options(
        hinting=False, notdef_outline=True, recalc_timestamp=False, drop_tables=[*subset.Options().drop_tables, "FFTM"]
    )
    worker = subset.Subsetter(options)
    worker.populate(text="".join(sorted(set(text) | {" "})))
    worker.subset(font)
    stream = io.BytesIO()
    font.save(stream)
    return stream.getvalue()
