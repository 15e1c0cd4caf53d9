"""What no section of a set explains: rooms that none cuts, stairs that none goes through."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import shapely

from edge_slice.core.cut.placing.report import ROOM, things
from edge_slice.core.cut.planes.leaves import ground_line, leaves_of
from edge_slice.core.cut.spec import SectionCut
from edge_slice.core.model import Model

LEAST = 0.1  # metres of a line within something that it goes through


@dataclass(frozen=True)
class Uncut:
    guid: str
    kind: str
    name: str


def uncut(model: Model, sections: Iterable[SectionCut]) -> list[Uncut]:
    """The rooms and stairs of a model that no section goes through, by its line and the heights that it shows. Raises
    `ImpossibleCut`."""
    met = met_by(model, sections)
    return [
        Uncut(guid, kind, name) for guid, kind, name, *_ in things(model) if kind in (ROOM, "stair") and guid not in met
    ]


def met_by(model: Model, sections: Iterable[SectionCut]) -> set[str]:
    """The rooms, stairs, openings and columns (GlobalIds) that sections go through. Raises `ImpossibleCut`."""
    lines = [
        (ground_line(leaf), leaf.window[1] / 1000.0, leaf.window[3] / 1000.0)
        for cut in sections
        for leaf in leaves_of(model, cut)
    ]
    return {
        guid
        for guid, _, _, outline, base, top in things(model)
        if any(
            low < top and high > base and shapely.length(shapely.intersection(line, outline)) > LEAST
            for line, low, high in lines
        )
    }
