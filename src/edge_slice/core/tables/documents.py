"""What a table is: its kind, columns, filters, groups, order and totals, as documents."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

Kind = Literal[
    "doors", "windows", "openings", "rooms", "finishes", "walls", "layers", "materials", "elements", "sheets",
    "drawings", "corrections",
]  # fmt: skip
Key = Annotated[str, Field(pattern=r"^[a-z][a-z0-9_]{0,39}$")]
Words = Annotated[str, Field(max_length=200)]
MOST_COLUMNS, MOST_RULES = 30, 10


class _Document(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class TableColumn(_Document):
    """One column. `shows`: a field of the rows (`field`: its key in `name`), a property of the file (`property`: "set:
    name" in `name`), what somebody typed (`own`), `formula`: of the four operations on other columns by their keys
    (lengths count in metres), or a picture of the element (`picture`: "front" or "plan" in `name`). `decimals`: None as
    the field has it; `wide`: mm on sheets, 0 as its texts need."""

    key: Key
    head: Annotated[str, Field(min_length=1, max_length=80)]
    shows: Literal["field", "property", "own", "formula", "picture"] = "field"
    name: Annotated[str, Field(max_length=300)] = ""
    decimals: Annotated[int, Field(ge=0, le=6)] | None = None
    total: Literal["none", "sum", "count"] = "none"
    wide: Annotated[float, Field(ge=0, le=400, allow_inf_nan=False)] = 0.0


class TableFilter(_Document):
    """Which rows stay: those whose column `how` the value."""

    column: Key
    how: Literal["is", "is not", "contains", "at least", "at most", "is empty", "is filled"]
    value: Words = ""


class TableOrder(_Document):
    column: Key
    falling: bool = False


class TableSpec(_Document):
    """`of`: the kind of element of a table of elements; `groups`: columns whose like values stand together, the
    outermost first; `totals`: of groups and of all."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    kind: Kind
    of: Annotated[str, Field(max_length=80)] = ""
    columns: Annotated[tuple[TableColumn, ...], Field(min_length=1, max_length=MOST_COLUMNS)]
    filters: Annotated[tuple[TableFilter, ...], Field(max_length=MOST_RULES)] = ()
    groups: Annotated[tuple[Key, ...], Field(max_length=3)] = ()
    order: Annotated[tuple[TableOrder, ...], Field(max_length=5)] = ()
    totals: bool = True

    @model_validator(mode="after")
    def _names_its_columns(self) -> TableSpec:
        keys = [c.key for c in self.columns]
        twice = sorted({k for k in keys if keys.count(k) > 1})
        if twice:
            raise ValueError(f"two columns have the key “{twice[0]}”; each needs one of its own")
        for key in (*(f.column for f in self.filters), *self.groups, *(o.column for o in self.order)):
            if key not in keys:
                raise ValueError(f"there is no column “{key}” to filter, group or sort by")
        if (self.kind == "elements") != bool(self.of):
            raise ValueError("a table of elements says of which kind they are, no other one does")
        return self


OwnValues = dict[Key, dict[Annotated[str, Field(max_length=300)], Words]]  # by column, then by the target of the row


class TableDocument(_Document):
    """A table, and what was typed into its own columns."""

    spec: TableSpec
    own: OwnValues = {}

    def of_targets(self, renamed: Callable[[str], str]) -> TableDocument:
        """What was typed, by other names of the rows' targets; without those that have none ("")."""
        own = {
            key: {name: value for target, value in values.items() if (name := renamed(target))}
            for key, values in self.own.items()
        }
        return TableDocument(spec=self.spec, own=own)
