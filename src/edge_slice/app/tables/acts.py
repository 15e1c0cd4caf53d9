"""What people do with tables: make, change, fill, read and leave them."""

from __future__ import annotations

from collections import Counter

from sqlmodel import Session, col, select

from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.models.in_memory import newest_revision
from edge_slice.app.row_lookup import current_row, held_row, own_key, project_row
from edge_slice.app.sheets.sheet_views import SheetsAround
from edge_slice.app.tables.documents import (
    CellChangeOut,
    CellsTyped,
    FieldOut,
    InTableOut,
    KindOut,
    LineOut,
    PictureLinesOut,
    TableContentOut,
    TableEdit,
    TableNew,
    TableOut,
    TakenBackOut,
)
from edge_slice.core.project.documents import SheetFields
from edge_slice.core.project.tables import table_places
from edge_slice.core.render.file_names import plain_name
from edge_slice.core.tables.content import TableContent, WrongTable, check_table, typed_in
from edge_slice.core.tables.documents import TableDocument, TableSpec
from edge_slice.core.tables.fields import FIELDS, usual_table
from edge_slice.core.tables.files import own_changes, to_csv, to_xlsx
from edge_slice.core.tables.pictures import Picture, svg_path
from edge_slice.store.changes import hold, recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import ProjectTable, Sheet

FORMS = {"csv": "text/csv", "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"}


def list_tables(project_id: int) -> list[TableOut]:
    with reading() as session:
        newest_revision(session, project_id)
        standing = _standing(session, project_id)
        return [_out(row, standing) for row in tables_of(session, project_id)]


def kinds_of(project_id: int) -> list[KindOut]:
    """The kinds of tables that would have rows."""
    with reading() as session:
        model = SheetsAround(session, project_id).source.model
        elements = Counter(e.kind for e in model.elements)
        rooms = len(model.spaces)
        counts = {
            "doors": elements["door"], "windows": elements["window"],
            "openings": elements["door"] + elements["window"], "rooms": rooms, "finishes": rooms,
            "walls": elements["wall"], "layers": sum(len(b.layers) for b in model.build_ups),
            "materials": len(model.materials), "corrections": len(project_row(session, project_id).corrections),
        }  # fmt: skip
        found = [KindOut(kind=kind, of="", count=counts.get(kind, 0)) for kind in FIELDS if kind != "elements"]
        return found + [KindOut(kind="elements", of=kind, count=n) for kind, n in sorted(elements.items())]


def add_table(project_id: int, new: TableNew, author: str) -> TableOut:
    with transaction() as session:
        newest_revision(session, project_id)
        hold(session, project_id)
        if (new.kind == "elements") != bool(new.of):
            raise Refused("Say of which kind of element the table is, or leave that to tables of elements.", "of")
        spec = usual_table(new.name.strip(), new.kind, new.of)
        around = SheetsAround(session, project_id)
        if new.of and new.of not in around.source.model.kinds:
            raise Refused(f"The model has nothing of the kind “{new.of}”.", "of")
        _check_name(session, project_id, spec, None)
        row = ProjectTable(project_id=project_id, document=TableDocument(spec=spec).model_dump(mode="json"))
        with recorded(session, project_id, "new table", author) as act:
            act.adds(row)
        return _out(row, {})


def edit_table(table_id: int, edit: TableEdit, author: str) -> TableOut:
    """Change what a table shows. What was typed into a column that goes stays in the history alone."""
    with transaction() as session:
        row = current_row(session, ProjectTable, table_id, edit.version, lambda newer: _out_alone(session, newer))
        before = document_of(row)
        if (edit.spec.kind, edit.spec.of) != (before.spec.kind, before.spec.of):
            raise Refused("A table stays of the kind that it was made as; make another one.", "kind")
        around = SheetsAround(session, row.project_id)
        _checked(around, edit.spec)
        _check_name(session, row.project_id, edit.spec, row.id)
        own = {c.key for c in edit.spec.columns if c.shows == "own"}
        kept = {key: values for key, values in before.own.items() if key in own}
        with recorded(session, row.project_id, "edit table", author) as act:
            act.edits(row)
            row.document = TableDocument(spec=edit.spec, own=kept).model_dump(mode="json")
            session.add(row)
        return _out_alone(session, row)


def type_cells(table_id: int, typed: CellsTyped, author: str) -> TableOut:
    """Cells of own columns: others that somebody types meanwhile stay as they are."""
    with transaction() as session:
        row = held_row(session, ProjectTable, table_id)
        document = document_of(row)
        around = SheetsAround(session, row.project_id)
        targets = {one.target for one in around.tables.rows(document.spec)}
        try:
            own = typed_in(document, [(c.column, c.target, c.text) for c in typed.cells], targets)
        except WrongTable as error:
            raise Refused(str(error), error.column) from error
        many = "type in table" if len(typed.cells) == 1 else f"type {len(typed.cells)} cells in table"
        with recorded(session, row.project_id, many, author) as act:
            act.edits(row)
            row.document = TableDocument(spec=document.spec, own=own).model_dump(mode="json")
            session.add(row)
        return _out_alone(session, row)


def delete_table(table_id: int, author: str) -> None:
    """Raises `Refused` for one that stands on sheets."""
    with transaction() as session:
        row = held_row(session, ProjectTable, table_id)
        standing = _standing(session, row.project_id).get(own_key(row), [])
        if standing:
            raise Refused(f"The table stands on {', '.join(standing)}; take it off there first.")
        with recorded(session, row.project_id, "delete table", author) as act:
            act.removes(row)


def content_out(table_id: int) -> TableContentOut:
    with reading() as session:
        row = _row(session, table_id)
        around = SheetsAround(session, row.project_id)
        document = document_of(row)
        rows = around.tables.rows(document.spec)
        content = _content(around, document)
        said = {name for one in rows for name in one.properties}
        return TableContentOut(
            spec=content.spec, version=row.version, units=list(content.units),
            lines=[
                LineOut.model_construct(  # thousands, of ours
                    what=line.what, target=line.target, level=line.level, cells=[c.text for c in line.cells]
                )
                for line in content.lines
            ],
            notes=list(content.notes), count=content.count,
            fields=[FieldOut(key=k, head=f.head, unit=f.unit) for k, f in FIELDS[content.spec.kind].items()],
            properties=sorted(said),
        )  # fmt: skip


def pictures_out(table_id: int, targets: list[str]) -> list[PictureLinesOut]:
    """The pictures of some rows of a table."""
    with reading() as session:
        row = _row(session, table_id)
        found = SheetsAround(session, row.project_id).tables.pictures(document_of(row).spec, targets)
        return [_lines_out(target, column, picture) for (target, column), picture in found.items()]


def file_of(table_id: int, form: str) -> tuple[str, str, bytes]:
    """Name, media type and bytes of a table as a file."""
    if form not in FORMS:
        raise Refused(f"Tables go out as {' or '.join(FORMS)}, not as “{form}”.", "form")
    with reading() as session:
        row = _row(session, table_id)
        content = _content(SheetsAround(session, row.project_id), document_of(row))
        data = to_csv(content) if form == "csv" else to_xlsx(content)
        return f"{plain_name(content.spec.name)}.{form}", FORMS[form], data


def compare_file(table_id: int, data: bytes) -> TakenBackOut:
    """What an XLSX file would change in own columns."""
    with reading() as session:
        row = _row(session, table_id)
        around = SheetsAround(session, row.project_id)
        document = document_of(row)
        rows = around.tables.rows(document.spec)
        names = {one.target: _called(document.spec, one.fields) for one in rows}
        try:
            changes, notes = own_changes(data, document, set(names))
        except WrongTable as error:
            raise Refused(str(error), "file") from error
        return TakenBackOut(
            changes=[
                CellChangeOut(column=c.column, target=c.target, row=names[c.target], before=c.before, after=c.after)
                for c in changes
            ],
            notes=notes,
        )


def tables_with(project_id: int, target: str) -> list[InTableOut]:
    """The tables that have a row of something."""
    with reading() as session:
        around = SheetsAround(session, project_id)
        found = []
        for row in tables_of(session, project_id):
            document = document_of(row)
            if any(one.target == target for one in around.tables.rows(document.spec)):
                found.append(InTableOut(table=row.id or 0, name=document.spec.name, target=target))
        return found


def tables_of(session: Session, project_id: int) -> list[ProjectTable]:
    """The tables of a project, in the order in which they were made."""
    rows = select(ProjectTable).where(col(ProjectTable.project_id) == project_id).order_by(col(ProjectTable.id))
    return list(session.exec(rows).all())


def document_of(row: ProjectTable) -> TableDocument:
    return TableDocument.model_validate(row.document)


def check_places(session: Session, project_id: int, fields: SheetFields) -> None:
    """Raises `Refused` for a table that the project does not have."""
    known = {own_key(row) for row in tables_of(session, project_id)}
    unknown = [p.table for p in fields.tables if p.table not in known]
    if unknown:
        raise Refused(f"There is no table “{unknown[0]}” in this project; choose one of its tables.", "tables")


def _row(session: Session, table_id: int) -> ProjectTable:
    row = session.get(ProjectTable, table_id)
    if row is None:
        raise NotFound("This table is not there any more.")
    return row


def _content(around: SheetsAround, document: TableDocument) -> TableContent:
    try:
        return around.tables.content(document)
    except WrongTable as error:
        raise Refused(str(error), error.column) from error


def _checked(around: SheetsAround, spec: TableSpec) -> None:
    try:
        check_table(spec, around.tables.rows(spec))
    except WrongTable as error:
        raise Refused(str(error), error.column) from error


def _check_name(session: Session, project_id: int, spec: TableSpec, own: int | None) -> None:
    rows = tables_of(session, project_id)
    if any(row.id != own and row.document["spec"]["name"].casefold() == spec.name.casefold() for row in rows):
        raise Refused(f"There is a table “{spec.name}” already; choose another name.", "name")


def _standing(session: Session, project_id: int) -> dict[str, list[str]]:
    """The numbers of the sheets that tables stand on, by their key."""
    found: dict[str, list[str]] = {}
    for sheet in session.exec(select(Sheet).where(col(Sheet.project_id) == project_id)).all():
        for place in table_places(sheet):
            if sheet.number not in found.setdefault(place.table, []):
                found[place.table].append(sheet.number)
    return {key: sorted(numbers) for key, numbers in found.items()}


def _out_alone(session: Session, row: ProjectTable) -> TableOut:
    return _out(row, _standing(session, row.project_id))


def _out(row: ProjectTable, standing: dict[str, list[str]]) -> TableOut:
    return TableOut(
        id=row.id or 0, project_id=row.project_id, key=own_key(row), spec=document_of(row).spec,
        sheets=standing.get(own_key(row), []), version=row.version,
    )  # fmt: skip


def _lines_out(target: str, column: str, picture: Picture) -> PictureLinesOut:
    path = svg_path(picture.lines.reshape(-1, 2, 2), picture.high)
    return PictureLinesOut(target=target, column=column, wide=picture.wide, high=picture.high, path=path)


def _called(spec: TableSpec, fields: dict[str, str | float | None]) -> str:
    """What people call a row by."""
    said = [str(fields[key]) for key in ("mark", "number", "build_up", "layer", "name", "title") if fields.get(key)]
    return " ".join(dict.fromkeys(said))
