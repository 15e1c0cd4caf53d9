"""Numbers of sheets by a pattern, in the folders of a register."""

from __future__ import annotations

import re
from collections.abc import Collection
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, model_validator

PART = re.compile(r"\{([^{}:]*)(?::([^{}]*))?\}")
KNOWN = ("discipline", "series", "counter", "folder")
LONGEST = 20  # characters of a number
Word = Annotated[str, Field(max_length=12)]


def free_number(taken: Collection[str]) -> str:
    """The first number of a drawing that is free on its sheet."""
    return next(str(n) for n in range(1, len(taken) + 2) if str(n) not in taken)


class Folder(BaseModel):
    """A folder of the register: what the numbers of its sheets begin with."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    key: str = Field(pattern=r"^[a-z0-9-]{1,30}$")
    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    discipline: Word = "A"
    series: Word = ""


FOLDERS = (
    Folder(key="general", name="General", series="0"),
    Folder(key="plans", name="Plans", series="1"),
    Folder(key="elevations", name="Elevations", series="2"),
    Folder(key="sections", name="Sections", series="3"),
    Folder(key="details", name="Details", series="4"),
)


class Register(BaseModel):
    """The folders of a project in their order, and how sheets are numbered; `{counter:02}` counts in a folder with at
    least two digits."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    pattern: str = Field(default="{discipline}-{series}{counter:02}", min_length=1, max_length=60)
    folders: tuple[Folder, ...] = Field(default=FOLDERS, min_length=1, max_length=60)

    @model_validator(mode="after")
    def _readable(self) -> Register:
        keys = [f.key for f in self.folders]
        doubled = next((k for k in keys if keys.count(k) > 1), None)
        if doubled is not None:
            raise ValueError(f"there are two folders “{doubled}”")
        parts = PART.findall(self.pattern)
        for name, digits in parts:
            if name not in KNOWN:
                raise ValueError(f"the pattern names “{name}”; it can name {', '.join(KNOWN)}")
            if digits and not (name == "counter" and re.fullmatch(r"0?[1-9]", digits)):
                raise ValueError(f"“:{digits}” is nothing that {name} can be written by; {{counter:02}} is")
        if "counter" not in [name for name, _ in parts]:
            raise ValueError("the pattern needs {counter}, or all sheets of a folder would have one number")
        if re.search(r"[{}]", PART.sub("", self.pattern)):
            raise ValueError("the pattern has a brace without its other one")
        return self

    def folder(self, key: str) -> Folder:
        """The folder of a key; the first one for a key that there is none of."""
        return next((f for f in self.folders if f.key == key), self.folders[0])

    def number(self, key: str, counter: int) -> str:
        """The number of a sheet in a folder. Raises `ValueError` where it is too long."""
        folder = self.folder(key)

        def said(part: re.Match[str]) -> str:
            if part[1] == "counter":
                return str(counter).zfill(int(part[2])) if part[2] else str(counter)
            return {"discipline": folder.discipline, "series": folder.series, "folder": folder.name}[part[1]]

        number = PART.sub(said, self.pattern).strip()
        if len(number) > LONGEST:
            raise ValueError(f"“{number}” has more than {LONGEST} characters; shorten the pattern")
        return number

    def counter(self, key: str, number: str) -> int | None:
        """What counts in a number of a folder; None for one that does not follow the pattern."""
        folder = self.folder(key)
        known = {"discipline": folder.discipline, "series": folder.series, "folder": folder.name}
        pattern, at = "", 0
        for part in PART.finditer(self.pattern):
            pattern += re.escape(self.pattern[at : part.start()])
            pattern += r"(\d{1,6})" if part[1] == "counter" else re.escape(known[part[1]])
            at = part.end()
        found = re.fullmatch(pattern + re.escape(self.pattern[at:]), number)
        return int(found[1]) if found else None

    def next_number(self, key: str, taken: set[str]) -> str:
        """One more than the highest of a folder that follows the pattern, and not taken."""
        counters = [c for n in taken if (c := self.counter(key, n)) is not None]
        counter = max(counters, default=0) + 1
        while self.number(key, counter) in taken:
            counter += 1
        return self.number(key, counter)
