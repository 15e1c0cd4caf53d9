"""`edge-slice publish`: all sheets of a project file, without a server or a database."""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path

from edge_slice.command_line.arguments import WrongArguments, wrong
from edge_slice.command_line.reading import model_of
from edge_slice.core.model import Model
from edge_slice.core.project.file.file_text import read_project
from edge_slice.core.project.file.project_file import ProjectFile
from edge_slice.core.project.file.publishing import Publisher
from edge_slice.core.project.refused import Refused
from edge_slice.core.render.outputs import TooManyPixels


def publish(options: argparse.Namespace) -> None:
    """Raises `WrongArguments`, pydantic's `ValidationError`, `UnreadableModel`."""
    path: Path = options.project
    if not path.is_file():
        wrong(f"there is no file {path}")
    if options.workers < 1:
        wrong(f"--workers is 1 or more, not {options.workers}")
    try:
        document = read_project(path)
        publisher = Publisher(document, _models(document, path.parent, options), path.parent)
        for finding in publisher.findings:
            print(f"edge-slice: {finding}", file=sys.stderr)
        files = publisher.files(options.form, options.sheets, options.dpi, options.workers, _say)
    except (Refused, TooManyPixels) as error:
        raise WrongArguments(str(error)) from error
    options.out.mkdir(parents=True, exist_ok=True)
    for name, data in files:
        _write(options.out / name, data)
        print(options.out / name)


def _models(document: ProjectFile, folder: Path, options: argparse.Namespace) -> list[Model]:
    """The revisions of the model, each with its elements as those before know them."""
    said = argparse.Namespace(unit=document.unit, up=document.up, no_cache=options.no_cache)
    paths = [folder / name for name in document.models]
    for path in paths:
        if not path.is_file():
            wrong(f"there is no model {path}")
    if len(document.states) == 1 and isinstance(document.states[0], str):
        return [model_of(paths[0], said)]
    from edge_slice.core.project.file.model_states import read_states

    return [state.model for state in read_states(document, lambda name, _: model_of(folder / name, said))]


def _say(title: str) -> None:
    print(f"edge-slice: {title}", file=sys.stderr, flush=True)


def _write(path: Path, data: bytes) -> None:
    """As a whole or not at all."""
    part = path.with_name(f"{path.name}.part")
    part.write_bytes(data)
    os.replace(part, path)
