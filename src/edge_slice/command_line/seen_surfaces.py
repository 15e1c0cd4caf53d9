"""Seen surfaces in the words of the command line."""

from __future__ import annotations

import argparse

from pydantic import ValidationError

from edge_slice.command_line.arguments import wrong
from edge_slice.core.drawing import DrawingStandard
from edge_slice.core.drawing.spec import SurfaceStyle
from edge_slice.core.drawing.sunlight import Sun


def appearance_named(options: argparse.Namespace, standard: DrawingStandard) -> str:
    """The appearance that a command asks for. Raises `WrongArguments` for one that the standard does not have."""
    name = str(options.surfaces)
    if name not in standard.appearances:
        wrong(f"there is no appearance {name!r} in this standard: there is {', '.join(standard.appearances)}")
    return name


def surface_style(options: argparse.Namespace) -> SurfaceStyle:
    """What a command says of seen surfaces besides. Raises `WrongArguments`."""
    return SurfaceStyle(shadow=options.shadows, sun=None if options.sun is None else sun_of(options.sun))


def sun_of(text: str) -> Sun:
    """`view`, a bearing and a height, or a place and a time. Raises `WrongArguments`."""
    parts = text.split(",")
    try:
        if text == "view":
            return Sun()
        if len(parts) == 2:
            return Sun.model_validate({"by": "bearing", "bearing": parts[0], "height": parts[1]})
        if len(parts) == 3:
            place = {"latitude": parts[0], "longitude": parts[1], "when": parts[2]}
            return Sun.model_validate({"by": "hour", **place})
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        place_of = ".".join(str(part) for part in first["loc"])
        said = str(first["msg"]).removeprefix("Value error, ").removeprefix("sun: ")
        wrong(f"--sun: {place_of + ': ' if place_of else ''}{said}")
    return wrong(f"--sun is view, BEARING,HEIGHT or LATITUDE,LONGITUDE,TIME, not {text!r}")
