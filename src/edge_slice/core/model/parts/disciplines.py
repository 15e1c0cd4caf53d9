"""Whose a part model is, how that is guessed, and which one leads for which kind of element."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import get_args

from edge_slice.core.model.building import Discipline, Model

DISCIPLINES: tuple[Discipline, ...] = get_args(Discipline)


@dataclass(frozen=True)
class _Told:
    """By what a discipline is told: words in the file's name, kinds of elements, and the kinds that it leads for."""

    words: str
    kinds: frozenset[str]
    leads: frozenset[str]


_TOLD: dict[Discipline, _Told] = {
    "structure": _Told(
        r"struct|tragwerk|statik|tragend|estructur|konstrukt|\bstr\b|\bst\b",
        frozenset({"beam", "column", "footing", "member"}), frozenset({"beam", "column", "footing", "member"}),
    ),
    "services": _Told(
        r"service|mep\b|hvac|plumb|elektr|electric|haustechnik|heizung|lüftung|sanit|\bme\b|\btga\b|instal",
        frozenset({"services"}), frozenset({"services"}),
    ),
    "site": _Told(
        r"\bsite\b|terrain|gelände|landscape|topo|umgebung|ground", frozenset({"ground", "planting"}),
        frozenset({"ground", "planting"}),
    ),
    "furniture": _Told(
        r"furni|möb|moeb|interior|fittings|einricht", frozenset({"furniture"}), frozenset({"furniture"}),
    ),
    "architecture": _Told(r"archit|\barch\b|\bar\b|\barc\b|building", frozenset(), frozenset()),
}  # fmt: skip
MOSTLY = 0.6  # of the elements, which must be of a discipline's kinds


def named_discipline(file_name: str) -> Discipline | None:
    """Whose a file is by its name alone, None where that says nothing."""
    words = re.sub(r"[_\-.]+", " ", file_name.lower())
    return next((d for d in _TOLD if re.search(_TOLD[d].words, words)), None)


def guessed_discipline(file_name: str, model: Model) -> tuple[Discipline, bool]:
    """Whose a file is, and whether that is sure: its name says so and what is in it doesn't say otherwise, or nearly
    all of it is of that discipline's kinds."""
    named = named_discipline(file_name)
    count = max(len(model.elements), 1)
    shares = {d: sum(e.kind in told.kinds for e in model.elements) / count for d, told in _TOLD.items()}
    mostly = max(shares, key=lambda d: shares[d])
    if shares[mostly] >= MOSTLY:
        return mostly, named in (None, mostly)
    if named is not None:
        return named, True
    return "architecture", sum(e.kind in ("wall", "door", "window") for e in model.elements) > count / 3


def leading(kind: str, disciplines: list[str]) -> int:
    """Which one of several disciplines (its place in the list) leads for a kind of element: the one whose kind it is,
    else the architecture, else the first."""
    for wanted, told in _TOLD.items():
        if kind in told.leads and wanted in disciplines:
            return disciplines.index(wanted)
    return disciplines.index("architecture") if "architecture" in disciplines else 0
