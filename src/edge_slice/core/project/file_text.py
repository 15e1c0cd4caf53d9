"""Project files as TOML."""

from __future__ import annotations

import tomllib
from pathlib import Path
from typing import Any

import tomli_w

from edge_slice.core.project.project_file import ProjectFile
from edge_slice.core.project.refused import Refused

LARGEST = 64 << 20  # bytes of a project file


def read_project(path: Path) -> ProjectFile:
    """A project file. Raises `Refused` for what is no TOML, `OSError`, and pydantic's `ValidationError`."""
    if path.stat().st_size > LARGEST:
        raise Refused(f"{path.name} is larger than {LARGEST >> 20} MB; it is no project file.", "file")
    try:
        return ProjectFile.model_validate(tomllib.loads(path.read_text("utf-8")))
    except (tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
        raise Refused(f"{path.name} is no TOML: {error}", "file") from error


def project_text(project: ProjectFile) -> str:
    """A project as TOML, without what is as it usually is."""
    told = project.model_dump(mode="json", by_alias=True, exclude_defaults=True)
    return tomli_w.dumps({"edge_slice": project.edge_slice, **_without_nulls(told)})


def _without_nulls(value: Any) -> Any:
    """TOML has no null: what may be null is left out, in lists it is unlimited."""
    if isinstance(value, dict):
        return {k: _without_nulls(v) for k, v in value.items() if v is not None}
    if isinstance(value, list):
        return ["unlimited" if v is None else _without_nulls(v) for v in value]
    return value
