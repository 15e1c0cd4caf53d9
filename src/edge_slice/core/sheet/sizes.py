"""Sheet sizes in mm, landscape: ISO 5457 A series, and the ARCH and ANSI sizes (ASME Y14.1)."""

from __future__ import annotations

from typing import Literal

SheetSize = Literal["A0", "A1", "A2", "A3", "A4", "ARCH A", "ARCH B", "ARCH C", "ARCH D", "ARCH E",
                    "ANSI A", "ANSI B", "ANSI C", "ANSI D", "ANSI E"]  # fmt: skip

SHEET_SIZES: dict[SheetSize, tuple[float, float]] = {
    "A0": (1189.0, 841.0),
    "A1": (841.0, 594.0),
    "A2": (594.0, 420.0),
    "A3": (420.0, 297.0),
    "A4": (297.0, 210.0),
    "ARCH A": (304.8, 228.6),
    "ARCH B": (457.2, 304.8),
    "ARCH C": (609.6, 457.2),
    "ARCH D": (914.4, 609.6),
    "ARCH E": (1219.2, 914.4),
    "ANSI A": (279.4, 215.9),
    "ANSI B": (431.8, 279.4),
    "ANSI C": (558.8, 431.8),
    "ANSI D": (863.6, 558.8),
    "ANSI E": (1117.6, 863.6),
}
