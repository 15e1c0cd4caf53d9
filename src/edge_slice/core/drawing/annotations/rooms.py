"""Number, name and area of rooms."""

from __future__ import annotations

import numpy as np
import shapely

from edge_slice.core.cut import CutResult
from edge_slice.core.drawing.display import Item, Label, paths_of
from edge_slice.core.drawing.lettering import text_width
from edge_slice.core.drawing.standard import DrawingStandard
from edge_slice.core.model import Model


def room_labels(model: Model, result: CutResult, scale: float, standard: DrawingStandard) -> list[Item]:
    """Number, name and area of the rooms that the plan passes through."""
    z = float(result.axes.origin[2])
    items: list[Item] = []
    u0, v0, u1, v1 = result.extents
    window = shapely.box(u0, v0, u1, v1)
    big, small = standard.text.label, standard.text.small
    for space in model.spaces:
        if len(space.outline) < 3 or not space.floor - 0.01 <= z <= space.ceiling + 0.01:
            continue
        room = shapely.Polygon(np.array(space.outline) * 1000)
        shown = shapely.intersection(room, window)
        if shown.is_empty or not room.is_valid:
            continue
        at = (
            shapely.maximum_inscribed_circle(shown, 100.0).coords[0]
            if shown.geom_type == "Polygon"
            else shown.representative_point().coords[0]
        )
        x, y = at[0] / scale, at[1] / scale
        wide = max(text_width(space.name, big), text_width(space.number, small)) / 2 + 0.8
        low, high = y - big * 0.5 - small * 2.2, y + big * 1.1 + small * 1.4
        mask = [(x - wide, low), (x + wide, low), (x + wide, high), (x - wide, high)]
        items += [
            paths_of("label mask", [mask], None, "#ffffff", True, f"space:{space.guid}"),
            Label(
                "room number",
                space.number,
                x,
                y + big * 1.1,
                small,
                standard.ink,
                "centre",
                source=f"space:{space.guid}",
            ),
            Label("room name", space.name, x, y - big * 0.5, big, standard.ink, "centre", source=f"space:{space.guid}"),
            Label(
                "room area",
                f"{room.area / 1e6:.1f} m²",
                x,
                y - big * 0.5 - small * 1.7,
                small,
                standard.ink,
                "centre",
                source=f"space:{space.guid}",
            ),
        ]
    return items
