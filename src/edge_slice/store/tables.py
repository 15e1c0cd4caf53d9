"""The tables. Rows that people edit carry a version that never comes twice; specs are typed JSON documents of the
core."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import (
    BigInteger,
    Column,
    ForeignKey,
    Index,
    LargeBinary,
    String,
    UniqueConstraint,
    text,
)
from sqlalchemy.dialects.postgresql import JSONB, ExcludeConstraint
from sqlmodel import Field, SQLModel

from edge_slice.store.columns import (
    Edited,
    bytes_column,
    json_column,
    known_states,
    moment_column,
    owned_column,
    version_column,
)

IMPORT_STATES = ("waiting", "reading", "proposed", "ready", "failed", "cancelled")
PUBLICATION_STATES = ("waiting", "working", "ready", "failed", "cancelled")
CHANGE_STATES = ("done", "undone", "dropped")


class Blob(SQLModel, table=True):
    """Bytes under their SHA-256, in chunks, so that a large file never has to be in memory at once. `stored_at`: when
    somebody stored them last."""

    hash: str = Field(primary_key=True)
    size: int = Field(sa_column=Column(BigInteger, nullable=False))
    stored_at: datetime = moment_column()


class BlobChunk(SQLModel, table=True):
    __tablename__ = "blob_chunk"
    hash: str = Field(sa_column=Column(ForeignKey("blob.hash", ondelete="CASCADE"), primary_key=True))
    part: int = Field(primary_key=True)
    data: bytes = Field(sa_column=Column(LargeBinary, nullable=False))


class Project(Edited, table=True):
    called = "project"
    id: int | None = Field(default=None, primary_key=True)
    name: str
    client: str = ""
    lengths: str = "mm"
    names: dict[str, Any] = json_column()
    sheet_register: dict[str, Any] = json_column()
    templates: dict[str, Any] = json_column()
    checks: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSONB, server_default="{}", nullable=False))
    materials: dict[str, Any] = Field(
        default_factory=dict, sa_column=Column(JSONB, server_default="{}", nullable=False)
    )
    corrections: list[Any] = Field(default_factory=list, sa_column=Column(JSONB, server_default="[]", nullable=False))
    materials_here: list[Any] = Field(
        default_factory=list, sa_column=Column(JSONB, server_default="[]", nullable=False)
    )
    created_at: datetime = moment_column()
    version: int = version_column()


class Revision(SQLModel, table=True):
    """One state of a project's model; `facts` is what lists need without loading the geometry, `changes` what became of
    the one before."""

    __table_args__ = (UniqueConstraint("project_id", "number"),)
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    number: int = 1
    file_name: str
    file_hash: str = bytes_column()
    geometry_hash: str = bytes_column()
    facts: dict[str, Any] = json_column()
    changes: dict[str, Any] = json_column()
    created_at: datetime = moment_column()


class RevisionPart(SQLModel, table=True):
    """One of the files that a revision is put together from, as it is in that revision; the one at `place_in_order` 0
    leads. A revision of one file has none."""

    __tablename__ = "revision_part"
    __table_args__ = (UniqueConstraint("revision_id", "key"), UniqueConstraint("revision_id", "place_in_order"))
    id: int | None = Field(default=None, primary_key=True)
    revision_id: int = owned_column("revision")
    place_in_order: int
    key: str
    name: str
    discipline: str
    file_name: str
    file_hash: str = bytes_column()
    geometry_hash: str = bytes_column()
    place: dict[str, Any] = json_column()
    read_as: dict[str, Any] = json_column()


class ModelImport(SQLModel, table=True):
    """An uploaded file on its way to a project: waiting, reading, ready, failed or cancelled. `unit` and `up` are what
    was said of a file that does not say them itself. One that is to be a newer revision `into` a project is proposed
    when it is read, with the geometry of all and what changed; `read_hash` is what was read of it, `part_hash` the same
    as the project knows it, `part` which part it is and where, `parts` all parts as they will be. One that came
    `beside` another one waits until that has become a project, and goes into it. `sender_id`: who sent it, where people
    sign in; a project that it becomes is theirs."""

    __tablename__ = "model_import"
    __table_args__ = (known_states("model_import", IMPORT_STATES),)
    id: int | None = Field(default=None, primary_key=True)
    file_name: str
    file_hash: str | None = bytes_column(default=None)
    unit: str = ""
    up: str = ""
    state: str = "waiting"
    progress: float = 0.0
    message: str = ""
    attempts: int = 0
    project_id: int | None = Field(
        default=None, sa_column=Column(ForeignKey("project.id", ondelete="SET NULL"), nullable=True)
    )
    into_id: int | None = Field(
        default=None, sa_column=Column(ForeignKey("project.id", ondelete="CASCADE"), nullable=True)
    )
    beside_id: int | None = Field(
        default=None, sa_column=Column(ForeignKey("model_import.id", ondelete="SET NULL"), nullable=True)
    )
    geometry_hash: str | None = bytes_column(default=None)
    read_hash: str | None = bytes_column(default=None)
    part_hash: str | None = bytes_column(default=None)
    facts: dict[str, Any] = json_column()
    changes: dict[str, Any] = json_column()
    part: dict[str, Any] = json_column(server_default="{}")
    parts: list[Any] = Field(default_factory=list, sa_column=Column(JSONB, server_default="[]", nullable=False))
    sender_id: int | None = Field(
        default=None, sa_column=Column(ForeignKey("account.id", ondelete="SET NULL"), nullable=True)
    )
    created_at: datetime = moment_column()


class Drawing(Edited, table=True):
    """`callout` is what it is called out by from its parent, whose cut its own then follows. `rule`: the key of the
    rule that it follows, empty for none."""

    called = "drawing"

    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    parent_id: int | None = Field(default=None, foreign_key="drawing.id", index=True)
    letter: str = ""
    name: str = ""
    cut: dict[str, Any] = json_column()
    callout: dict[str, Any] | None = Field(default=None, sa_column=Column(JSONB(none_as_null=True), nullable=True))
    style: dict[str, Any] = json_column()
    rule: str = Field(default="", sa_column=Column(String, server_default="", nullable=False))
    version: int = version_column()


class DrawingRuleRow(Edited, table=True):
    """A rule for new drawings, of a project; drawings name it by `own-` and its id."""

    called = "drawing rule"

    __tablename__ = "drawing_rule"
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    document: dict[str, Any] = json_column()
    version: int = version_column()


class ProjectTable(Edited, table=True):
    """A table of the building, of a project; sheets name it by `own-` and its id."""

    called = "table"

    __tablename__ = "project_table"
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    document: dict[str, Any] = json_column()
    version: int = version_column()


class CalloutReference(Edited, table=True):
    """A region of a drawing that another one enlarges which was there already, and how its marker stands."""

    called = "callout"

    __tablename__ = "callout_reference"
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    drawing_id: int = owned_column("drawing")
    target_id: int = owned_column("drawing")
    region: dict[str, Any] = json_column()
    marker: dict[str, Any] = json_column()
    version: int = version_column()


class Annotation(Edited, table=True):
    """What somebody added to a drawing, as a document of the core."""

    called = "annotation"

    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    drawing_id: int = owned_column("drawing")
    document: dict[str, Any] = json_column()
    version: int = version_column()


class TouchUpRow(Edited, table=True):
    """What somebody changed of the linework of a drawing."""

    called = "touch-up"

    __tablename__ = "touch_up"
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    drawing_id: int = owned_column("drawing")
    document: dict[str, Any] = json_column()
    version: int = version_column()


class Standard(Edited, table=True):
    """A drawing standard of a project's own; drawings name it by `own_key`."""

    called = "drawing standard"

    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    name: str
    document: dict[str, Any] = json_column()
    version: int = version_column()


class ShownSet(Edited, table=True):
    """A shown set of a project's own; drawings name it by `own-` and its id."""

    called = "shown set"

    __tablename__ = "shown_set"
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    name: str
    rule: dict[str, Any] = json_column()
    version: int = version_column()


class SharedExtents(Edited, table=True):
    """Shared extents of a project; drawings name them by `own-` and their id."""

    called = "box of shared extents"

    __tablename__ = "shared_extents"
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    name: str
    box: dict[str, Any] = json_column()
    version: int = version_column()


class StarterSet(SQLModel, table=True):
    """Drawings of a project kept for others; `document` says what they are fitted by, in the form of number `form`."""

    __tablename__ = "starter_set"
    id: int | None = Field(default=None, primary_key=True)
    name: str
    document: dict[str, Any] = json_column()
    form: int
    created_at: datetime = moment_column()


class OfficeRule(SQLModel, table=True):
    """A rule for new drawings that the office keeps for all projects, with the standard and shown set that it names
    where a project made them, in the form of number `form`."""

    __tablename__ = "office_rule"
    __table_args__ = (UniqueConstraint("kind", "name"),)
    id: int | None = Field(default=None, primary_key=True)
    kind: str
    name: str
    document: dict[str, Any] = json_column()
    form: int
    created_at: datetime = moment_column()


class SheetDesignRow(Edited, table=True):
    """A sheet design of a project's own; sheets name it by `own-` and its id."""

    called = "sheet design"

    __tablename__ = "sheet_design"
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    name: str
    document: dict[str, Any] = json_column()
    version: int = version_column()


class Sheet(Edited, table=True):
    """`folder`: its key in the register, empty for the one that its number belongs to; `place`: where it stands among
    the sheets of its folder."""

    called = "sheet"

    __table_args__ = (UniqueConstraint("project_id", "number", deferrable=True, initially="DEFERRED"),)
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    number: str
    title: str
    size: str = "A1"
    design: str = "corner-block"
    folder: str = ""
    place: float = 0.0
    fields: dict[str, Any] = json_column()
    version: int = version_column()


class Placement(Edited, table=True):
    """A drawing on a sheet. `home`: whether markers show its number; of a drawing's placements one is. `trim`: mm taken
    off at the left, base, right, top; `title`: how its title stands; those of higher `stack` lie on top."""

    called = "placement"

    __table_args__ = (
        UniqueConstraint("sheet_id", "number", deferrable=True, initially="DEFERRED"),
        # checked at the end of an act, in which a home may move from one placement to another
        ExcludeConstraint(
            ("drawing_id", "="), where=text("home"), using="btree", name="placement_one_home", deferrable=True,
            initially="DEFERRED",
        ),
    )  # fmt: skip
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    sheet_id: int = owned_column("sheet")
    drawing_id: int = owned_column("drawing")
    number: str
    x: float
    y: float
    home: bool = True
    trim: dict[str, Any] = json_column()
    title: dict[str, Any] = json_column()
    stack: int = 0
    version: int = version_column()


class Issue(SQLModel, table=True):
    """A dated release of sheets. It never changes."""

    __table_args__ = (UniqueConstraint("project_id", "code"),)
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    code: str
    date: str
    purpose: str
    issued_by: str
    revision: int
    pdf_hash: str = bytes_column()
    created_at: datetime = moment_column()


class IssuedSheet(SQLModel, table=True):
    """A sheet as it was issued: its picture for the screen, its PDF, and what was drawn on it. The sheet itself may be
    gone by now."""

    __tablename__ = "issued_sheet"
    id: int | None = Field(default=None, primary_key=True)
    issue_id: int = owned_column("issue")
    sheet_id: int = Field(index=True)
    place: int
    number: str
    title: str
    screen_hash: str = bytes_column()
    pdf_hash: str = bytes_column()
    content: dict[str, Any] = json_column()


class Publication(SQLModel, table=True):
    """Sheets on their way to a file or an issue: waiting, working, ready, failed or cancelled. `wanted` is the document
    that asked for it; `file_hash` what came of it."""

    __table_args__ = (known_states("publication", PUBLICATION_STATES),)
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    wanted: dict[str, Any] = json_column()
    author: str = ""
    state: str = "waiting"
    done: int = 0
    of: int = 0
    message: str = ""
    file_name: str = ""
    file_hash: str | None = bytes_column(default=None)
    attempts: int = 0
    issue_id: int | None = Field(
        default=None, sa_column=Column(ForeignKey("issue.id", ondelete="SET NULL"), nullable=True)
    )
    created_at: datetime = moment_column()


class GroundRow(Edited, table=True):
    """What ground a project says it has; `digest` is another text for another one, empty for none."""

    called = "ground"

    __tablename__ = "ground"
    __table_args__ = (UniqueConstraint("project_id"),)
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = Field(sa_column=Column(ForeignKey("project.id", ondelete="CASCADE"), nullable=False))
    document: dict[str, Any] = json_column()
    digest: str = ""
    version: int = version_column()


class ViewpointRow(Edited, table=True):
    """A viewpoint of a project; `place`: where it stands among the others."""

    called = "viewpoint"

    __tablename__ = "viewpoint"
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    place: float = 0.0
    name: str
    document: dict[str, Any] = json_column()
    version: int = version_column()


class LeftFinding(Edited, table=True):
    """A finding of the checks, by its key, that somebody leaves as it is, and why."""

    called = "finding"

    __tablename__ = "left_finding"
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    key: str
    reason: str
    author: str = ""
    version: int = version_column()


class Change(SQLModel, table=True):
    """The change log: who did what to which row, before and after. Rows of one act share `act`. `form`: the number of
    the form in which its documents are written (`store.forms`)."""

    __table_args__ = (
        known_states("change", CHANGE_STATES),
        Index("ix_change_undone", "project_id", "id", postgresql_where=text("state = 'undone'")),
    )
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    act: str = Field(index=True)
    label: str
    author: str = ""
    at: datetime = moment_column()
    table_name: str
    row_id: int
    before: dict[str, Any] | None = Field(default=None, sa_column=Column(JSONB(none_as_null=True), nullable=True))
    after: dict[str, Any] | None = Field(default=None, sa_column=Column(JSONB(none_as_null=True), nullable=True))
    state: str = "done"
    form: int


class KeptView(SQLModel, table=True):
    """What was composed once, under the name of all that it depends on; `used_at`: about when it was last asked for."""

    __tablename__ = "kept_view"
    __table_args__ = (Index("ix_kept_view_used", "project_id", "used_at"),)
    key: str = Field(primary_key=True)
    project_id: int = Field(sa_column=Column(ForeignKey("project.id", ondelete="CASCADE"), nullable=False))
    size: int = Field(sa_column=Column(BigInteger, nullable=False))
    data: bytes = Field(sa_column=Column(LargeBinary, nullable=False))
    used_at: datetime = moment_column()


EDITED: dict[str, type[Edited]] = {str(table.__tablename__): table for table in Edited.__subclasses__()}
