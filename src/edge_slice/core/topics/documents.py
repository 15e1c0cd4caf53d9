"""What a topic says."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

Version = Literal["2.1", "3.0"]
Triple = tuple[float, float, float]
ENDINGS: dict[Version, str] = {"2.1": "bcfzip", "3.0": "bcf"}  # of files' names


@dataclass(frozen=True)
class Viewpoint:
    """From where something is looked at, without perspective: the `eye`, the direction that it looks in and which way
    is up, and what is `high` in the picture, metres in the coordinates of the file; the `elements` (GlobalIds of the
    file) that are meant; and planes (a point, and a direction to the side that is not shown) that open the model. One
    that was read says eye and directions, zero where it has no camera, and what is meant."""

    eye: Triple
    looks: Triple
    up: Triple
    high: float
    elements: tuple[str, ...]
    planes: tuple[tuple[Triple, Triple], ...] = ()


@dataclass(frozen=True)
class Remark:
    """What somebody has said to a topic, and when."""

    guid: str
    author: str
    date: str
    text: str


@dataclass(frozen=True)
class Topic:
    """`guid`: a UUID, by which an answer is known; `status`: in the words of whoever said it last; `kind`: what it is;
    `assigned`, `due` (a day): to whom, until when. What was read has no `picture` (PNG)."""

    guid: str
    title: str
    text: str
    status: str
    author: str
    created: datetime | None
    remarks: tuple[Remark, ...] = ()
    viewpoint: Viewpoint | None = None
    picture: bytes | None = None
    kind: str = "Correction"
    assigned: str = ""
    due: str = ""
