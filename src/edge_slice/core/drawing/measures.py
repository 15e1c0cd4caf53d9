"""Lengths, heights, areas and scales as drawings write them."""

from __future__ import annotations

from fractions import Fraction
from typing import Literal

Lengths = Literal["mm", "m", "ft-in"]
SIXTEENTHS = 16 * 12  # in a foot: lengths in feet and inches are written to 1/16 inch
FOOT = 0.3048  # metres
METRIC = (0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 25.0, 50.0, 100.0, 200.0, 500.0, 1000.0)  # ISO 5455, and 1:25
IMPERIAL = {
    4.0: '3"', 8.0: '1 1/2"', 12.0: '1"', 16.0: '3/4"', 24.0: '1/2"', 32.0: '3/8"', 48.0: '1/4"', 64.0: '3/16"',
    96.0: '1/8"', 128.0: '3/32"', 192.0: '1/16"', 384.0: '1/32"',
}  # fmt: skip


def length_text(metres: float, lengths: Lengths) -> str:
    """Whole millimetres, metres with three decimals, or feet and inches: 2400, 2.400, 7'-10 1/2"."""
    sign = "−" if metres < 0 else ""
    size = abs(metres)
    if lengths == "mm":
        return f"{sign}{size * 1000:.0f}"
    return sign + (f"{size:.3f}" if lengths == "m" else _feet(size))


def length_said(metres: float, lengths: Lengths) -> str:
    """The same with its unit, for whoever may write lengths otherwise."""
    unit = "" if lengths == "ft-in" else f" {lengths}"
    return length_text(metres, lengths) + unit


def _feet(metres: float) -> str:
    feet, rest = divmod(round(metres / FOOT * SIXTEENTHS), SIXTEENTHS)
    inches, part = divmod(rest, 16)
    whole = [str(inches)] if inches or feet or not part else []
    small = " ".join([*whole, str(Fraction(part, 16))] if part else whole) + '"'
    return f"{feet}'-{small}" if feet else small


def height_text(metres: float, lengths: Lengths) -> str:
    """Height over the datum: +3.300, ±0.000, −0.900: metres also where lengths are in mm, as on drawings."""
    unit: Lengths = "ft-in" if lengths == "ft-in" else "m"
    zero, text = length_text(0.0, unit), length_text(abs(metres), unit)
    return f"{'±' if text == zero else '+' if metres > 0 else '−'}{text}"


def area_text(square_metres: float, lengths: Lengths) -> str:
    if lengths == "ft-in":
        return f"{square_metres / FOOT**2:.0f} sq ft"
    return f"{square_metres:.1f} m²"


def scale_text(scale: float) -> str:
    """1:50, 2:1, or 1/4" = 1'-0" for a scale of the imperial set."""
    if scale in IMPERIAL:
        return f"{IMPERIAL[scale]} = 1'-0\""
    return f"1:{scale:g}" if scale >= 1 else f"{1 / scale:g}:1"
