"""Ground that a command is given: a height, or a file of points; in the coordinates of the model's file."""

from __future__ import annotations

import argparse
import json
from pathlib import Path

import numpy as np
from pydantic import ValidationError

from edge_slice.command_line.arguments import numbers, places, wrong
from edge_slice.core.model import Model
from edge_slice.core.model.ground.documents import Ground, Grounds, LevelGround, PointsGround
from edge_slice.core.model.ground.earthworks import earthworks, profile_areas
from edge_slice.core.model.ground.made import GroundProblem
from edge_slice.core.model.ground.standing_in import Reliefs, reliefs_of, with_ground
from edge_slice.core.model.ground.typed import Untyped, typed_points


def in_ground(options: argparse.Namespace, model: Model) -> Model:
    """The model in the ground that a command says. Raises `WrongArguments`."""
    grounds = _grounds(options, model)
    if not grounds.any:
        return model
    reliefs = _reliefs(model, grounds)
    return with_ground(model, grounds, lambda *_: reliefs)


def said_of_earthworks(options: argparse.Namespace, model: Model) -> None:
    """Print what it takes to make the proposed ground of what is there."""
    reliefs = _reliefs(model, _grounds(options, model))
    if reliefs.existing is None:
        wrong("the model has no ground; say what is there with --ground HEIGHT or FILE")
    rise = reliefs.rise
    assert rise is not None
    works = earthworks(rise)
    found = {"cut_m3": works.cut, "fill_m3": works.fill, "area_m2": works.area}
    if options.line:
        a, b = (np.array(p) - model.origin[:2] for p in places("--line", options.line, 2)[:2])
        found["along_cut_m2"], found["along_filled_m2"] = profile_areas(rise, (a, b))
    if options.json:
        print(json.dumps({k: round(v, 3) for k, v in found.items()}, indent=1))
        return
    print(f"cut   {works.cut:12,.1f} m³\nfill  {works.fill:12,.1f} m³\nover  {works.area:12,.1f} m²")
    if options.line:
        print(f"along the line {found['along_cut_m2']:,.2f} m² cut, {found['along_filled_m2']:,.2f} m² filled")


def _reliefs(model: Model, grounds: Grounds) -> Reliefs:
    try:
        return reliefs_of(model, grounds)
    except GroundProblem as problem:
        wrong(f"the ground can't be made: {problem}")


def _grounds(options: argparse.Namespace, model: Model) -> Grounds:
    area: tuple[tuple[float, float], ...] = ()
    if options.proposed_area:
        if not options.proposed:
            wrong("--proposed-area wants --proposed, the ground that ends there")
        area = tuple((x - model.origin[0], y - model.origin[1])
                     for x, y in places("--proposed-area", options.proposed_area, 3))  # fmt: skip
    return Grounds(
        existing=_ground("--ground", options.ground, model, ()),
        proposed=_ground("--proposed", options.proposed, model, area),
    )


def _ground(option: str, said: str | None, model: Model, area: tuple[tuple[float, float], ...]) -> Ground | None:
    if said is None:
        return None
    path = Path(said)
    if not path.is_file():
        if not said.lstrip("+-")[:1].isdigit():
            wrong(f"{option} is a height in metres or a file of points; there is no file {said}")
        (height,) = numbers(option, said, 1)
        return Ground(shape=LevelGround(height=height - model.origin[2]), area=area)
    try:
        rows = np.array(typed_points(path.read_text("utf-8"), "points").rows) - model.origin
        points = tuple((x, y, z) for x, y, z in rows.round(6).tolist())
        return Ground(shape=PointsGround(points=points), area=area)
    except (Untyped, UnicodeDecodeError, ValidationError) as error:
        said_so = error.errors()[0]["msg"] if isinstance(error, ValidationError) else str(error)
        wrong(f"{option} {path.name}: {said_so}")
