"""The sheet designs that come with the application, as documents in `designs/`."""

from __future__ import annotations

import json
from functools import cache
from importlib.resources import files

from edge_slice.core.sheet.design import SheetDesign

CORNER = "corner-block"


@cache
def shipped_designs() -> dict[str, SheetDesign]:
    """By key, in the order in which they are offered."""
    folder = files("edge_slice.core.sheet").joinpath("designs")
    found = {}
    for key in (CORNER, "side-strip", "base-strip", "cover"):
        found[key] = SheetDesign.model_validate(json.loads(folder.joinpath(f"{key}.json").read_text("utf-8")))
    return found
