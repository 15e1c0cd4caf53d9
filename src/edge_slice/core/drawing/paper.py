"""How large a drawing may be on paper, and which scales there are (ISO 5455)."""

from __future__ import annotations

from edge_slice.core.cut import ImpossibleCut
from edge_slice.core.cut.planes.leaves import Window
from edge_slice.core.drawing.measures import scale_text

SCALES = (0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 25, 50, 100, 200, 500, 1000, 2000, 5000, 10_000, 20_000, 50_000, 100_000)
LARGEST = 4000.0  # mm on paper, width or height


def check_paper(extents: Window, scale: float) -> None:
    """Raise `ImpossibleCut` for a drawing larger than `LARGEST`, saying which scale or crop fits. extents: left,
    base, right, top, mm of the building."""
    wide, high = (extents[2] - extents[0]) / scale, (extents[3] - extents[1]) / scale
    if max(wide, high) <= LARGEST:
        return
    fits = next((s for s in SCALES if max(extents[2] - extents[0], extents[3] - extents[1]) / s <= LARGEST), None)
    larger = f"choose {scale_text(fits)} or smaller, or " if fits else ""
    raise ImpossibleCut(
        f"At {scale_text(scale)} this drawing would be {wide / 1000:.3g} x {high / 1000:.3g} m on paper, more than "
        f"{LARGEST / 1000:g} m: {larger}crop it to {LARGEST * scale / 1000:.3g} m of the building at most."
    )
