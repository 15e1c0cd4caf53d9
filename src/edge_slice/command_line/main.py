"""The command line. Exit codes: 0 done; 2 wrong arguments; 3 a model that can't be read."""

from __future__ import annotations

import argparse
import json
import re
import sys
from pathlib import Path
from typing import NoReturn

from pydantic import ValidationError

from edge_slice.command_line.facts import facts_of, facts_text
from edge_slice.core.cut import AnyCut, Extents, ImpossibleCut, PlanCut, SectionCut, cut_model
from edge_slice.core.drawing import DrawingSpec, compose_drawing, default_standard
from edge_slice.core.model import Model, UnreadableModel
from edge_slice.core.model.ifc import read_ifc
from edge_slice.core.render.cut_json import cut_document
from edge_slice.core.render.page import page_box
from edge_slice.core.render.pdf import Page, to_pdf
from edge_slice.core.render.svg import to_svg

FORMS = (".svg", ".pdf", ".json")


class WrongArguments(Exception):
    """The message says which, and what is right."""


class _Parser(argparse.ArgumentParser):
    """Takes coordinates like -2,3.5 for values, and refuses in one line."""

    def __init__(self, *args: object, **options: object) -> None:
        super().__init__(*args, **options)  # type: ignore[arg-type]
        self._negative_number_matcher = re.compile(r"^-\.?\d")

    def error(self, message: str) -> NoReturn:
        raise WrongArguments(message)


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="edge-slice", description="Cut drawings from a building model.")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)
    inspect = commands.add_parser("inspect", help="say what a model holds")
    inspect.add_argument("model", metavar="MODEL", type=Path)
    inspect.add_argument("--json", action="store_true", help="print JSON")

    plan = commands.add_parser("plan", help="cut a plan of a storey")
    plan.add_argument("--storey", required=True, metavar="NAME_OR_INDEX", help="name, or index from the lowest, 0")
    plan.add_argument("--height", type=float, default=1.2, help="metres above the storey's floor (1.2)")

    cut = commands.add_parser("cut", help="cut a vertical section")
    cut.add_argument("--line", required=True, nargs="+", metavar="X,Y", help="the two ends, metres in the model")
    cut.add_argument("--look", required=True, choices=("left", "right"), help="side drawn, from the first point on")
    cut.add_argument("--base", type=float, help="lowest height shown, metres")
    cut.add_argument("--top", type=float, help="greatest height shown, metres")
    for command, scale in ((plan, 100), (cut, 50)):
        command.add_argument("model", metavar="MODEL", type=Path)
        command.add_argument("--depth", default="unlimited", metavar="METRES|unlimited")
        command.add_argument("--scale", type=float, default=scale, metavar="N", help=f"1:N ({scale})")
        command.add_argument("--without", nargs="+", default=[], metavar="KIND", help="kinds of element left out")
        command.add_argument("--out", required=True, type=Path, metavar="FILE", help="ends in .svg, .pdf or .json")
    return parser


def _inspect(options: argparse.Namespace) -> None:
    facts = facts_of(_read(options.model))
    print(json.dumps(facts, ensure_ascii=False, indent=1) if options.json else facts_text(facts))


def _plan(options: argparse.Namespace) -> None:
    depth, style = _depth(options.depth), DrawingSpec(scale=options.scale)
    model = _read(options.model)
    guid = _storey(model, options.storey)
    spec = PlanCut(storey=guid, height=options.height, depth=depth, without=_kinds(model, options.without))
    _write(model, spec, style, options.out)


def _cut(options: argparse.Namespace) -> None:
    depth, style, points = _depth(options.depth), DrawingSpec(scale=options.scale), _points(options.line)
    (x0, y0), (x1, y1) = points
    SectionCut(line=((0.0, 0.0), (x1 - x0, y1 - y0)))  # refuses a line of no length before the model is read
    model = _read(options.model)
    moved = [(x - model.origin[0], y - model.origin[1]) for x, y in points]
    extents = Extents(base=_down(options.base, model), top=_down(options.top, model))
    spec = SectionCut(
        line=(moved[0], moved[1]),
        look=options.look,
        depth=depth,
        extents=extents,
        without=_kinds(model, options.without),
    )
    _write(model, spec, style, options.out)


def _down(height: float | None, model: Model) -> float | None:
    return None if height is None else height - model.origin[2]


def _wrong(message: str) -> NoReturn:
    raise WrongArguments(message)


def _read(path: Path) -> Model:
    if not path.is_file():
        _wrong(f"there is no file {path}")
    model = read_ifc(path)
    for problem in model.problems:
        print(f"edge-slice: {problem}", file=sys.stderr)
    return model


def _check_form(out: Path) -> None:
    if out.suffix.lower() not in FORMS:
        _wrong(f"--out must end in .svg, .pdf or .json, not {out.suffix or 'nothing'!r}")


def _depth(text: str) -> float | None:
    if text == "unlimited":
        return None
    try:
        value = float(text)
    except ValueError:
        _wrong(f"--depth is a number of metres or unlimited, not {text!r}")
    if not value > 0:
        _wrong(f"--depth must be more than 0, not {text}")
    return value


def _points(texts: list[str]) -> list[tuple[float, float]]:
    try:
        points = [tuple(float(v) for v in text.split(",")) for text in texts]
    except ValueError:
        points = []
    if len(points) != 2 or any(len(p) != 2 for p in points):
        _wrong(f"--line is two points like 0,2.5 10,2.5, not {' '.join(texts)!r}")
    return [(p[0], p[1]) for p in points]


def _storey(model: Model, wanted: str) -> str:
    """A storey by name, else by index."""
    named = [s for s in model.storeys if s.name == wanted]
    if named:
        return named[0].guid
    if wanted.lstrip("-").isdigit() and 0 <= int(wanted) < len(model.storeys):
        return model.storeys[int(wanted)].guid
    names = ", ".join(f"{i} {s.name}" for i, s in enumerate(model.storeys)) or "none"
    _wrong(f"there is no storey {wanted!r}; the model has: {names}")


def _kinds(model: Model, without: list[str]) -> tuple[str, ...]:
    unknown = [k for k in without if k not in model.kinds]
    if unknown:
        _wrong(f"no element is of kind {unknown[0]!r}; kinds here: {', '.join(model.kinds)}")
    return tuple(without)


def _write(model: Model, spec: AnyCut, style: DrawingSpec, out: Path) -> None:
    standard = default_standard()
    result = cut_model(model, spec, standard.cut_rules(model))
    if result.is_empty:
        print("edge-slice: the cut meets nothing; the drawing is empty", file=sys.stderr)
    if out.suffix.lower() == ".json":
        document = cut_document(model, result, style.scale, standard)
        out.write_text(json.dumps(document, ensure_ascii=False, separators=(",", ":")) + "\n", "utf-8")
        return
    display = compose_drawing(model, result, spec, style, standard)
    box = page_box(display)
    if out.suffix.lower() == ".svg":
        out.write_text(to_svg(display, box, model.name), "utf-8")
    else:
        out.write_bytes(to_pdf([Page(display, box, model.name)], model.name))


def run(arguments: list[str] | None = None) -> int:
    """Entry point: every refusal is one line on stderr."""
    try:
        options = _parser().parse_args(arguments)
        if options.command != "inspect":
            _check_form(options.out)
        {"inspect": _inspect, "plan": _plan, "cut": _cut}[options.command](options)
    except UnreadableModel as error:
        return _refuse(3, str(error))
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        place = ".".join(str(part) for part in first["loc"])
        message = first["msg"].removeprefix("Value error, ")
        return _refuse(2, f"{place}: {message}" if place else message)
    except (WrongArguments, ImpossibleCut) as error:
        return _refuse(2, str(error))
    except OSError as error:
        return _refuse(2, f"{error.strerror}: {error.filename}")
    return 0


def _refuse(code: int, message: str) -> int:
    print(f"edge-slice: {message}", file=sys.stderr)
    return code
