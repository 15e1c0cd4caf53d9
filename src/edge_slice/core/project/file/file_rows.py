"""The rows of a project file, as the core takes them."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any


@dataclass
class FileDrawing:
    id: int | None
    parent_id: int | None
    letter: str
    name: str
    cut: dict[str, Any]
    callout: dict[str, Any] | None
    style: dict[str, Any]
    rule: str = ""
    version: int = 1


@dataclass
class FileReference:
    id: int | None
    drawing_id: int
    target_id: int
    region: dict[str, Any]
    marker: dict[str, Any]


@dataclass
class FileAnnotation:
    id: int | None
    document: dict[str, Any]
    version: int


@dataclass
class FileSheet:
    id: int | None
    number: str
    title: str
    size: str
    design: str
    folder: str
    place: float
    fields: dict[str, Any]


@dataclass
class FilePlacement:
    id: int | None
    sheet_id: int
    drawing_id: int
    number: str
    x: float
    y: float
    home: bool
    trim: dict[str, Any] = field(default_factory=dict)
    title: dict[str, Any] = field(default_factory=dict)
