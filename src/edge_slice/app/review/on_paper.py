"""Remarks on paper: as a list with pictures of their places, and laid over the sheets that they are on."""

from __future__ import annotations

from collections.abc import Sequence

from sqlmodel import Session, col, select

from edge_slice.app.annotating.pictures import kept_picture
from edge_slice.app.errors import Refused
from edge_slice.app.output.exports import File
from edge_slice.app.people.rights import Person
from edge_slice.app.review.documents import RemarkOut
from edge_slice.app.review.pictures import Pictures
from edge_slice.app.review.remarks import remarks_of
from edge_slice.app.row_lookup import project_row
from edge_slice.core.project.sheets import sheet_title
from edge_slice.core.render.file_names import plain_name
from edge_slice.core.render.outputs import OUTPUTS
from edge_slice.core.render.pdf import Page, to_pdf
from edge_slice.core.sheet.remark_list import PAGE, ListedRemark, remark_pages
from edge_slice.core.sheet.remark_marks import Marked, with_remarks
from edge_slice.store.database import reading
from edge_slice.store.review import Remark


def list_of(project_id: int, person: Person) -> File:
    """The remarks of a project as a list. Raises `Refused` where there are none."""
    remarks = list(reversed(remarks_of(project_id, person)))
    with reading() as session:
        project = project_row(session, project_id)
        check_any(remarks)
        pictures = Pictures(session, project_id)
        listed = [_listed(session, pictures, one) for one in remarks]
    name = f"{project.name} remarks"
    pages = [Page(display, PAGE, name) for display in remark_pages(f"{project.name}: remarks", listed)]
    return File(f"{plain_name(name)}.pdf", OUTPUTS["pdf"].media_type, to_pdf(pages, name))


def over_sheets(project_id: int, person: Person) -> File:
    """The sheets on which remarks are that are not done, with these laid over them. Raises `Refused` where there are
    none."""
    remarks = {one.id: one for one in remarks_of(project_id, person) if one.state != "done"}
    with reading() as session:
        project = project_row(session, project_id)
        check_any(list(remarks.values()))
        rows = session.exec(select(Remark).where(col(Remark.id).in_(remarks)).order_by(col(Remark.number))).all()
        pictures = Pictures(session, project_id)
        around, pages = pictures.places.around, []
        for sheet in around.sheets:
            pins = [pin for row in rows for pin in pictures.places.pins_on(sheet, row)]
            if not pins:
                continue
            said = {pin.number: _listed(session, None, remarks[pin.remark]) for pin in pins}
            marked = [Marked(pin.number, pin.at, pin.sketch) for pin in pins]
            shown = with_remarks(around.display(sheet), marked, list(said.values()))
            pages.append(Page(shown, shown.frame, sheet_title(sheet)))
    if not pages:
        raise Refused("None of the remarks that are open is on a sheet.", "")
    name = f"{project.name} sheets with remarks"
    return File(f"{plain_name(name)}.pdf", OUTPUTS["pdf"].media_type, to_pdf(pages, name))


def check_any(remarks: Sequence[RemarkOut]) -> None:
    """Raises `Refused` where there are none."""
    if not remarks:
        raise Refused("There are no remarks yet.", "")


def _listed(session: Session, pictures: Pictures | None, one: RemarkOut) -> ListedRemark:
    """A remark as it is listed; with pictures, where they are wanted."""
    about = [one.author, f"to {one.to}" if one.to else "", f"until {one.due}" if one.due else "", one.state]
    answers = tuple((f"{a.author}, {a.at:%Y-%m-%d}: {a.state}", a.text) for a in one.answers)
    place = pictures.picture(session.get_one(Remark, one.id)) if pictures else None
    added = kept_picture(session, one.picture) if pictures and one.picture else None
    return ListedRemark(
        f"{one.number}  {one.where}", ", ".join(filter(None, about)), one.text, answers,
        tuple(picture for picture in (place, added) if picture is not None),
    )  # fmt: skip
