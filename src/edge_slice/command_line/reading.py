"""The models that commands read, kept from one to the next."""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path

from edge_slice.command_line.arguments import wrong
from edge_slice.command_line.cache import ModelCache
from edge_slice.core.model import Model
from edge_slice.core.model.files.any_file import read_model

THREADS = len(os.sched_getaffinity(0))


def read(options: argparse.Namespace) -> Model:
    path: Path = options.model
    if not path.is_file():
        wrong(f"there is no file {path}")
    model = model_of(path, options)
    for problem in model.problems:
        print(f"edge-slice: {problem}", file=sys.stderr)
    return model


_read_before: dict[tuple[object, ...], Model] = {}  # in this process: a run makes many drawings of one model


def model_of(path: Path, options: argparse.Namespace) -> Model:
    key = (path.resolve(), path.stat().st_mtime_ns, options.unit, options.up)
    if key not in _read_before:

        def anew() -> Model:
            return read_model(path, threads=THREADS, unit=options.unit, up=options.up)

        cache = ModelCache.of_user()
        _read_before[key] = anew() if options.no_cache else cache.get(path, f"{options.unit} {options.up}", anew)
    return _read_before[key]
