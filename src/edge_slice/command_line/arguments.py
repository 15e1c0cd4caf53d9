"""The arguments of every command, and what their texts mean."""

from __future__ import annotations

import argparse
import re
from pathlib import Path
from typing import NoReturn, get_args

from edge_slice.core.annotating.set_rules import SETS
from edge_slice.core.cut import Perspective
from edge_slice.core.cut.spec import Edge
from edge_slice.core.drawing import SHIPPED, DrawingStandard, shipped_standard
from edge_slice.core.drawing.spec import Shadow
from edge_slice.core.model.files.units import Unit, Up
from edge_slice.core.render.outputs import CUT, DPI, OUTPUTS

FORMS = tuple(f".{form}" for form in (*OUTPUTS, CUT))
FACINGS = {"N": 0.0, "E": 90.0, "S": 180.0, "W": 270.0}
WIDE_ANGLE = 60.0  # degrees of view of a perspective without a measure
Place = tuple[float, float]
RULES = tuple(rule for rule, one in SETS.items() if not one.of_wall)  # sets that need no more than a drawing


class WrongArguments(Exception):
    """The message says which, and what is right."""


def wrong(message: str) -> NoReturn:
    raise WrongArguments(message)


class _Parser(argparse.ArgumentParser):
    """Takes coordinates like -2,3.5 for values, and refuses in one line."""

    def __init__(self, *args: object, **options: object) -> None:
        super().__init__(*args, **options)  # type: ignore[arg-type]
        self._negative_number_matcher = re.compile(r"^-\.?\d")

    def error(self, message: str) -> NoReturn:
        raise WrongArguments(message)


def parser() -> argparse.ArgumentParser:
    top = _Parser(prog="edge-slice", description="Cut drawings from a building model.")
    commands = top.add_subparsers(dest="command", required=True, parser_class=_Parser)
    inspect = commands.add_parser("inspect", help="say what a model holds")
    inspect.add_argument("--json", action="store_true", help="print JSON")

    plan = commands.add_parser("plan", help="cut a plan of a storey, or of all")
    plan.add_argument("--storey", required=True, metavar="NAME_OR_INDEX", help="name, index from the lowest, 0, or all")
    plan.add_argument("--height", type=float, default=1.2, help="metres above the storey's floor (1.2)")
    plan.add_argument("--overhead", type=float, metavar="METRES", help="range above the cut, dashed (by the standard)")
    plan.add_argument("--ceiling", action="store_true", help="look up at the ceiling, mirrored to overlie the plan")

    cut = commands.add_parser("cut", help="cut a section along a line, or in any plane")
    where = cut.add_mutually_exclusive_group(required=True)
    where.add_argument("--line", nargs="+", metavar="X,Y", help="two ends, or more points for steps; metres")
    where.add_argument("--plane", nargs=2, metavar=("X,Y,Z", "NX,NY,NZ"), help="a point and the normal to the viewer")
    cut.add_argument("--look", choices=("left", "right"), help="side drawn, from the first point on")
    cut.add_argument("--corners", choices=("steps", "turns"), default="steps", help="what right angles are (steps)")
    cut.add_argument("--step-lines", action="store_true", help="a fine upright line where the cut steps")

    elevation = commands.add_parser("elevation", help="draw elevations of the building, or of a room's walls")
    of = elevation.add_mutually_exclusive_group(required=True)
    of.add_argument("--facing", metavar="N|E|S|W|DEGREES|all", help="the side that faces there, or a true bearing")
    of.add_argument("--room", metavar="NUMBER_OR_NAME", help="one drawing for each wall of a room")

    wall = commands.add_parser("wall", help="cut a wall from footing to roof, and draw its junctions")
    wall.add_argument("--at", required=True, metavar="X,Y", help="a place at the wall, on plan; metres")
    wall.add_argument("--look", choices=("left", "right"), default="left", help="side drawn (left)")
    wall.add_argument("--details", type=float, default=10, metavar="N", help="1:N of the junctions (10); 0: none")

    for command, scale in ((plan, 100), (cut, 50), (elevation, 100), (wall, 20)):
        _common(command, scale)
    plan.set_defaults(depth=None)  # a little below the floor, as the standard says
    for command in (cut, elevation):
        command.add_argument("--base", type=float, help="lowest height shown, metres")
        command.add_argument("--top", type=float, help="greatest height shown, metres")
        command.add_argument("--perspective", nargs="?", const="", metavar="METRES", help="eye so far before the cut")
        command.add_argument("--field-of-view", type=float, metavar="DEGREES", help="perspective by its angle")
        command.add_argument("--eye", metavar="U,V", help="where the eye stands in the drawing, metres")
    works = commands.add_parser("earthworks", help="say what is cut and filled to make one ground of another")
    _ground(works)
    works.add_argument("--line", nargs=2, metavar="X,Y", help="also in a section along this line")
    works.add_argument("--json", action="store_true", help="print JSON")
    for command in (inspect, plan, cut, elevation, wall, works):
        command.add_argument("--no-cache", action="store_true", help="read the model anew and keep nothing")
        command.add_argument("model", metavar="MODEL", type=Path)
        command.add_argument("--unit", choices=get_args(Unit), help="of OBJ, STL and PLY, which do not say it")
        command.add_argument("--up", choices=get_args(Up), help="the axis that points up in these (z; glTF: y)")

    changes = commands.add_parser("changes", help="say what became of a model in a newer file")
    changes.add_argument("model", metavar="OLD", type=Path)
    changes.add_argument("newer", metavar="NEW", type=Path)
    changes.add_argument("--json", action="store_true", help="print JSON")
    changes.add_argument("--no-cache", action="store_true", help="read the models anew and keep nothing")
    changes.set_defaults(unit=None, up=None)
    send = commands.add_parser("send", help="send a newer file of a model to a project of a server, as a revision")
    send.add_argument("model", metavar="MODEL", type=Path)
    send.add_argument("--project", required=True, type=int, metavar="N", help="the project's number, as in its address")
    send.add_argument("--server", default="http://127.0.0.1:8710", metavar="URL", help="(http://127.0.0.1:8710)")
    send.add_argument("--part", default="", metavar="NAME", help="the part that it is a newer file of, or new")
    send.add_argument("--take", action="store_true", help="make it the revision in use when it is read")
    send.add_argument("--anyway", action="store_true", help="also where it may be another building")
    watch = commands.add_parser(
        "watch", help="send each model in a folder that is saved again to a project of a server"
    )
    watch.add_argument("folder", metavar="FOLDER", type=Path)
    watch.add_argument(
        "--project", required=True, metavar="URL", help="its address, like http://127.0.0.1:8710/projects/3"
    )
    watch.add_argument("--take", action="store_true", help="make each the revision in use when it is read")
    watch.add_argument("--every", type=float, default=1.0, metavar="SECONDS", help="between two looks (1)")
    hatches = commands.add_parser("hatches", help="draw all hatches of a standard at three scales")
    hatches.add_argument("--out", required=True, type=Path, metavar="FILE", help="ends in .svg or .pdf")
    standard = commands.add_parser("standard", help="write a drawing standard as JSON, to edit and use with --standard")
    standard.add_argument("--out", required=True, type=Path, metavar="FILE", help="ends in .json")
    run = commands.add_parser("run", help="make all drawings that a TOML file lists")
    run.add_argument("file", type=Path, metavar="FILE.toml")
    publish = commands.add_parser("publish", help="draw all sheets of a project file")
    publish.add_argument("project", type=Path, metavar="PROJECT.toml")
    publish.add_argument("--out", required=True, type=Path, metavar="DIR", help="folder that the files are written to")
    publish.add_argument("--form", choices=tuple(OUTPUTS), default="pdf", help="one linked PDF (pdf)")
    publish.add_argument("--sheets", nargs="+", default=[], metavar="NUMBER", help="only these")
    publish.add_argument("--dpi", type=float, default=DPI, metavar="N", help="dots an inch of .png (150)")
    publish.add_argument("--workers", type=int, default=2, metavar="N", help="sheets drawn at the same time (2)")
    publish.add_argument("--no-cache", action="store_true", help="read the model anew and keep nothing")
    cache = commands.add_parser("cache", help="say what models are kept from earlier commands")
    cache.add_argument("--clear", action="store_true", help="delete them")
    for command in (hatches, standard, plan, cut, elevation, wall):
        command.add_argument(
            "--standard", default=SHIPPED[0], metavar="NAME|FILE", help=f"{', '.join(SHIPPED)}, or JSON"
        )
    return top


def said_in(texts: list[str] | None) -> set[str]:
    """The options that a command says, and that are not as they usually are."""
    bare = parser()
    for action in bare._actions:
        for command in action.choices.values() if isinstance(action, argparse._SubParsersAction) else ():
            command._defaults.clear()
            for one in command._actions:
                one.default = argparse.SUPPRESS
    return {*vars(bare.parse_args(texts))}


def _common(command: argparse.ArgumentParser, scale: int) -> None:
    command.add_argument("--rule", type=Path, metavar="FILE.json",
                         help="a drawing rule: how the drawing is, where no option says it")  # fmt: skip
    command.add_argument("--depth", nargs="+", default=["unlimited"], metavar="METRES|unlimited",
                         help="how far to look; several: one for each leg of the line")  # fmt: skip
    command.add_argument("--scale", type=float, default=scale, metavar="N", help=f"1:N ({scale})")
    command.add_argument("--without", nargs="+", default=[], metavar="KIND", help="kinds of element left out")
    command.add_argument("--hidden", choices=("off", "below ground", "dashed"), default="off",
                         help="hidden lines: left out, those that only ground hides, or all (off)")  # fmt: skip
    _ground(command)
    command.add_argument("--glass", choices=("solid", "clear"), default="solid", help="what glass hides (solid)")
    command.add_argument("--fill", choices=("material", "solid", "colour", "none"), default="material")
    command.add_argument("--surfaces", default="lines", metavar="NAME",
                         help="appearance of the standard: how seen surfaces show (lines)")  # fmt: skip
    command.add_argument("--shadows", choices=get_args(Shadow), help="as the appearance has them")
    command.add_argument("--sun", metavar="view|BEARING,HEIGHT|LATITUDE,LONGITUDE,TIME",
                         help="where it stands: degrees; a time as 2026-06-21T15:00+01:00")  # fmt: skip
    command.add_argument("--content", choices=("auto", "outline", "layers", "membranes"), default="auto")
    command.add_argument("--see-through", nargs="+", default=[], metavar="KIND", help="kinds that hide nothing")
    command.add_argument(
        "--whole", nargs="+", default=[], metavar="KIND", help="kinds that are not cut, but drawn whole"
    )
    command.add_argument("--frame", action="store_true", help="draw the border of the extents")
    command.add_argument("--section-rooms", action="store_true", help="name the rooms that a section cuts")
    command.add_argument("--extents", nargs="+", metavar="U,V", help="corners of a polygon to crop to, metres")
    command.add_argument("--region", nargs=2, metavar="U,V", help="opposite corners of what is called out, metres")
    command.add_argument("--break", nargs="+", default=[], dest="breaks", metavar="u|v:FROM,TO",
                         help="a part to take out, along or up the drawing, metres")  # fmt: skip
    command.add_argument("--broken", nargs="+", default=[], choices=get_args(Edge), help="edges with a break line")
    command.add_argument("--whole-edges", action="store_true", help="break lines go across all of an edge")
    command.add_argument("--annotate", nargs="+", default=[], choices=RULES, help="automatic sets of annotations")
    command.add_argument("--added", type=Path, metavar="FILE.json", help="annotations and touch-ups to add")
    command.add_argument("--earlier", type=Path, metavar="MODEL", help="an earlier file that the drawing is laid over")
    command.add_argument("--out", required=True, type=Path, metavar="FILE", help=f"ends in {_either(FORMS)}")
    command.add_argument("--dpi", type=float, default=DPI, metavar="N", help="dots an inch of a .png (150)")


def _ground(command: argparse.ArgumentParser) -> None:
    command.add_argument("--ground", metavar="HEIGHT|FILE", help="ground there is: a level, or points as x y height")
    command.add_argument("--proposed", metavar="HEIGHT|FILE", help="ground there shall be, which is then drawn")
    command.add_argument("--proposed-area", nargs="+", metavar="X,Y", help="corners that it ends at, metres")


def check_form(out: Path, forms: tuple[str, ...] = FORMS) -> None:
    if out.suffix.lower() not in forms:
        wrong(f"--out must end in {_either(forms)}, not {out.suffix or 'nothing'!r}")


def _either(words: tuple[str, ...]) -> str:
    return " or ".join((", ".join(words[:-1]), words[-1])) if len(words) > 1 else words[0]


def depths(texts: list[str]) -> list[float | None]:
    return [_depth(part) for text in texts for part in text.split(",")]


def one_depth(texts: list[str]) -> float | None:
    found = depths(texts)
    return found[0] if len(found) == 1 else wrong("--depth takes one value here; several belong to the legs of a line")


def _depth(text: str) -> float | None:
    if text == "unlimited":
        return None
    try:
        value = float(text)
    except ValueError:
        wrong(f"--depth is a number of metres or unlimited, not {text!r}")
    if not value > 0:
        wrong(f"--depth must be more than 0, not {text}")
    return value


def numbers(option: str, text: str, count: int) -> tuple[float, ...]:
    try:
        found = tuple(float(v) for v in text.split(","))
    except ValueError:
        found = ()
    if len(found) != count:
        wrong(f"{option} wants {count} numbers like {','.join(['1.5'] * count)}, not {text!r}")
    return found


def places(option: str, texts: list[str], least: int) -> list[Place]:
    try:
        points = [tuple(float(v) for v in text.split(",")) for text in texts]
    except ValueError:
        points = []
    if len(points) < least or any(len(p) != 2 for p in points):
        count = "two points" if least == 2 else f"{least} points"
        wrong(f"{option} is {count} or more like 0,2.5 10,2.5, not {' '.join(texts)!r}")
    return [(p[0], p[1]) for p in points]


def breaks(texts: list[str]) -> list[tuple[str, float, float]]:
    """Axis, start and end of each break."""
    found = []
    for text in texts:
        axis, _, span = text.partition(":")
        if axis not in ("u", "v"):
            wrong(f"--break wants u: or v: and two numbers, like v:0.6,1.2, not {text!r}")
        start, end = numbers("--break", span, 2)
        found.append((axis, start, end))
    return found


def bearing(text: str) -> float:
    try:
        return float(text)
    except ValueError:
        return wrong(f"--facing is N, E, S, W, all or a bearing in degrees, not {text!r}")


def perspective(options: argparse.Namespace) -> Perspective | None:
    if options.perspective is None and options.field_of_view is None:
        if options.eye is not None:
            wrong("--eye belongs to --perspective or --field-of-view")
        return None
    distance = numbers("--perspective", options.perspective, 1)[0] if options.perspective else None
    angle = options.field_of_view if options.field_of_view is not None else (None if distance else WIDE_ANGLE)
    eye = numbers("--eye", options.eye, 2) if options.eye else None
    return Perspective(distance=distance, field_of_view=angle, eye=(eye[0], eye[1]) if eye else None)


def standard_of(text: str) -> DrawingStandard:
    if text in SHIPPED:
        return shipped_standard(text)
    path = Path(text)
    if not path.is_file():
        wrong(f"there is no drawing standard {text!r}: name {', '.join(SHIPPED)}, or a JSON file")
    return DrawingStandard.model_validate_json(path.read_text("utf-8"))
