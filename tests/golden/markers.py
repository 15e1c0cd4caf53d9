"""python -m tests.golden.markers: writes how the core lays markers out, which the front end does by itself while one is
dragged."""

from __future__ import annotations

import json
from itertools import product
from typing import Any

from edge_slice.core.drawing import default_standard
from edge_slice.core.drawing.annotations.markers import Marker, laid_out, marker_form, placed_markers
from edge_slice.core.drawing.display import Paths, Pen
from edge_slice.core.drawing.spec import MarkerStyle
from tests.conftest import ROOT

FILE = ROOT / "frontend" / "tests" / "laid-markers.json"
LINES = (
    ((1.0, 2.0), (9.0, 2.0)),
    ((2.0, 7.0), (8.0, 1.0)),
    ((1.0, 1.0), (5.0, 1.0), (5.0, 4.0), (12.0, 4.0)),
    ((-3.0, 3.0), (4.0, 3.0), (4.0, 5.0), (14.0, 5.0)),
)
STYLES = (
    MarkerStyle(),
    MarkerStyle(heads="first", shift=(6.0, 0.0)),
    MarkerStyle(heads="last", shift=(0.0, -4.0), open_middle=True),
)
FRAMES = ((-20.0, -20.0, 20.0, 20.0), (0.0, 0.0, 10.0, 8.0))  # metres


def laid_markers() -> list[dict[str, Any]]:
    """Markers alone in a drawing: their stretches, what of them is heavy, and the middles of their heads, metres."""
    standard = default_standard()
    form = marker_form(standard)
    found = []
    for line, style, frame, (scale, look) in product(LINES, STYLES, FRAMES, ((50.0, "left"), (100.0, "right"))):
        paper = [x * 1000 / scale for x in frame]
        box = (paper[0], paper[1], paper[2], paper[3])
        marker = Marker(1, "A", "–", line, look, style=style)
        (laid,) = laid_out([marker], scale, form, box)
        items, _ = placed_markers([marker], scale, standard, Pen(0.25, "#000000"), box)
        metres = scale / 1000
        found.append(
            {
                "line": line,
                "look": look,
                "style": style.model_dump(mode="json"),
                "scale": scale,
                "window": paper,
                "pieces": [{"line": rounded(p.line * metres), "ends": p.ends, "aside": p.aside} for p in laid.pieces],
                "heads": rounded([head.centre * metres for head in laid.heads]),
                "heavy": [
                    rounded(item.points[a:b] * metres)
                    for item in items
                    if isinstance(item, Paths) and item.role == "cutting line end"
                    for a, b in zip(item.starts[:-1], item.starts[1:], strict=True)
                ],
            }
        )
    return found


def rounded(points: Any) -> list[list[float]]:
    return [[round(float(x), 6) for x in p] for p in points]


def document() -> str:
    form = marker_form(default_standard())
    sizes = {"radius": form.radius, "overhang": form.overhang, "corner": form.corner}
    return json.dumps({"form": sizes, "markers": laid_markers()}, separators=(",", ":")) + "\n"


if __name__ == "__main__":
    FILE.write_text(document(), "utf-8")
