"""`edge-slice run`: several drawings of one model, written down in a TOML file."""

from __future__ import annotations

import json
import sys
import tomllib
from collections.abc import Callable
from importlib import resources
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from edge_slice.command_line.arguments import RULES, WrongArguments, wrong
from edge_slice.core.drawing.spec import Shadow

Number = Annotated[float, Field(allow_inf_nan=False)]
Pair = tuple[Number, Number]
Triple = tuple[Number, Number, Number]


def _known_set(rule: str) -> str:
    if rule not in RULES:
        raise ValueError(f"there is no set {rule!r}; use {', '.join(RULES)}")
    return rule


WholeSet = Annotated[str, AfterValidator(_known_set), Field(json_schema_extra={"enum": list(RULES)})]


class _Table(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Options(_Table):
    """What all drawings may say; as the options of the same name on the command line."""

    scale: Number | None = None
    depth: Number | Literal["unlimited"] | list[Number | Literal["unlimited"]] | None = None
    without: list[str] | None = None
    hidden: Literal["off", "below ground", "dashed"] | None = None
    ground: str | Number | None = None
    proposed: str | Number | None = None
    proposed_area: list[Pair] | None = None
    glass: Literal["solid", "clear"] | None = None
    fill: Literal["material", "solid", "colour", "none"] | None = None
    surfaces: str | None = None
    shadows: Shadow | None = None
    sun: str | None = None
    content: Literal["auto", "outline", "layers", "membranes"] | None = None
    extents: list[Pair] | None = None
    rule: str | None = None
    standard: str | None = None
    section_rooms: bool | None = None
    see_through: list[str] | None = None
    whole: list[str] | None = None
    frame: bool | None = None
    region: list[Pair] | None = None
    breaks: list[str] | None = Field(default=None, alias="break")
    broken: list[Literal["left", "right", "base", "top"]] | None = None
    whole_edges: bool | None = None
    annotate: list[WholeSet] | None = None
    added: str | None = None
    earlier: str | None = None


class OneDrawing(Options):
    """One drawing: its `command` (plan, cut, elevation, wall), what that asks for, and the file that it becomes."""

    command: Literal["plan", "cut", "elevation", "wall"]
    out: str
    storey: str | int | None = None
    height: Number | None = None
    overhead: Number | None = None
    ceiling: bool | None = None
    line: list[Pair] | None = None
    plane: tuple[Triple, Triple] | None = None
    look: Literal["left", "right"] | None = None
    corners: Literal["steps", "turns"] | None = None
    step_lines: bool | None = None
    facing: str | Number | None = None
    room: str | None = None
    base: Number | None = None
    top: Number | None = None
    perspective: Number | bool | None = None
    field_of_view: Number | None = None
    eye: Pair | None = None
    at: Pair | None = None
    details: Number | None = None


class RunFile(_Table):
    """The file: a model, what its drawings have in common, and the drawings in order."""

    model: str
    unit: Literal["mm", "cm", "m", "in", "ft"] | None = None
    up: Literal["y", "z"] | None = None
    common: Options = Options()
    drawing: Annotated[list[OneDrawing], Field(min_length=1, max_length=1000)]


def run_schema() -> str:
    """The JSON Schema of the file, as text."""
    return resources.files("edge_slice.command_line").joinpath("run.schema.json").read_text("utf-8")


def read_run_file(path: Path) -> RunFile:
    """The file, checked. Raises `WrongArguments` and pydantic's `ValidationError`."""
    if not path.is_file():
        wrong(f"there is no file {path}")
    try:
        return RunFile.model_validate(tomllib.loads(path.read_text("utf-8")))
    except (tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
        raise WrongArguments(f"{path} is no TOML: {error}") from error


def arguments_of(run: RunFile, drawing: OneDrawing, folder: Path) -> list[str]:
    """One drawing as the arguments of its command; files are meant beside the run file."""
    common = run.common.model_dump(exclude_none=True, by_alias=True)
    own = drawing.model_dump(exclude_none=True, exclude={"command", "out"}, by_alias=True)
    words = [drawing.command, str(folder / run.model), "--out", str(folder / drawing.out)]
    for key, value in {**common, **own, "unit": run.unit, "up": run.up}.items():
        if value is None or value is False:
            continue
        beside = key in ("standard", "ground", "proposed") and (folder / str(value)).is_file()
        if key in ("added", "earlier", "rule") or beside:
            value = str(folder / str(value))
        words.append("--" + key.replace("_", "-"))
        words += [] if value is True else _texts(value)
    return words


def _texts(value: Any) -> list[str]:
    if not isinstance(value, list | tuple):
        return [_text(value)]
    several = any(isinstance(v, list | tuple) for v in value) or any(isinstance(v, str) for v in value)
    if several or isinstance(value, list):
        return [",".join(_text(x) for x in v) if isinstance(v, list | tuple) else _text(v) for v in value]
    return [",".join(_text(v) for v in value)]


def _text(value: Any) -> str:
    return f"{value:.12g}" if isinstance(value, float) else str(value)


def run_all(path: Path, one: Callable[[list[str]], int]) -> int:
    """Make every drawing of a run file with `one`, saying how far it is, and a summary; 0 when all were made, 4 when
    some were not."""
    run = read_run_file(path)
    failed = []
    for k, drawing in enumerate(run.drawing):
        print(f"[{k + 1}/{len(run.drawing)}] {drawing.out}", file=sys.stderr, flush=True)
        if one(arguments_of(run, drawing, path.parent)) != 0:
            failed.append(drawing.out)
    done = len(run.drawing) - len(failed)
    missing = f"; not made: {', '.join(failed)}" if failed else ""
    print(f"edge-slice: {done} of {len(run.drawing)} drawings made{missing}", file=sys.stderr)
    return 4 if failed else 0


if __name__ == "__main__":  # writes the schema anew
    print(json.dumps(RunFile.model_json_schema(), indent=1, ensure_ascii=False))
