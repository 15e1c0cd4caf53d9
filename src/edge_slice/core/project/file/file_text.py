"""Project files as TOML."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import tomli_w
from pydantic import BaseModel
from pydantic.fields import FieldInfo

from edge_slice.core.project.file.project_file import ProjectFile
from edge_slice.core.project.refused import Refused

NESTED, LONGEST_LINE = 2, 100  # lists in lists that are shortened; characters
_ONE = r'"(?:[^"\\]|\\.)*"|\[[^\[\]\n"]*\]|[^\s,\[\]"{}]+'  # a text, a list of numbers in a line, a number
VALUE, LIST = re.compile(_ONE), re.compile(rf"\[\n(?:\s+(?:{_ONE}),\n)+\s*\]")
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
    return _short_lists_in_a_line(tomli_w.dumps({"edge_slice": project.edge_slice, **told(project)}))


def told(value: Any) -> Any:
    """A document without what is as it usually is, but with its kinds. TOML has no null: what may be null is left out,
    in lists it is unlimited."""
    if isinstance(value, BaseModel):
        fields = type(value).model_fields
        said = {f.alias or n: getattr(value, n) for n, f in fields.items() if n == "kind" or _unusual(value, n, f)}
        return told(said)
    if isinstance(value, Mapping):
        return {k: told(v) for k, v in value.items() if v is not None}
    if isinstance(value, list | tuple):
        return ["unlimited" if v is None else told(v) for v in value]
    return value


def _unusual(document: BaseModel, name: str, field: FieldInfo) -> bool:
    return bool(getattr(document, name) != field.get_default(call_default_factory=True, validated_data={}))


def _short_lists_in_a_line(text: str) -> str:
    """A point takes one line, not four. No text has a line break in it, as the writer leaves them."""
    for _ in range(NESTED):
        text = LIST.sub(lambda found: _in_a_line(found[0]), text)
    return text


def _in_a_line(found: str) -> str:
    line = ", ".join(VALUE.findall(found[1:-1]))
    return f"[{line}]" if len(line) <= LONGEST_LINE else found
