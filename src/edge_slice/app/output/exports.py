"""Drawings and sheets as files."""

from __future__ import annotations

import io
import zipfile
from dataclasses import dataclass

from edge_slice.app.annotating.boards import drawing_display
from edge_slice.app.drawings.drawing_rows import drawing_row
from edge_slice.app.drawings.lineage import drawing_out
from edge_slice.app.errors import Refused
from edge_slice.app.models.comparisons import compared_with
from edge_slice.app.sheets.sheet_views import sheet_display, sheet_row
from edge_slice.app.views.composed import drawing_cut, json_document
from edge_slice.core.render.file_names import plain_name
from edge_slice.core.render.outputs import CUT, CUT_MEDIA, DPI, OUTPUTS, Drawn, TooManyPixels
from edge_slice.core.render.page import page_box
from edge_slice.store.database import reading


@dataclass(frozen=True)
class File:
    name: str
    media_type: str
    data: bytes


LONG_AGO = (1980, 1, 1, 0, 0, 0)  # of files in an archive: the same bytes on every day


def archive(files: list[tuple[str, bytes]]) -> bytes:
    """Files, by name, as one ZIP archive."""
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as found:
        for name, data in files:
            found.writestr(zipfile.ZipInfo(name, LONG_AGO), data, zipfile.ZIP_DEFLATED)
    return stream.getvalue()


def export_drawing(drawing_id: int, form: str, earlier: int | None = None) -> File:
    """A drawing as a file; over an `earlier` revision of the model, if one is named."""
    with reading() as session:
        row = drawing_row(session, drawing_id)
        out = drawing_out(session, row)
        if form == CUT:
            data = json_document(drawing_cut(session, row)).encode()
            return File(f"{plain_name(out.title)}.{CUT}", CUT_MEDIA, data)
        display = drawing_display(session, row) if earlier is None else compared_with(session, row, earlier)[1].display
    if earlier is not None:
        before = f"revision {earlier}" if earlier else "the model as its file has it"
        out.title = f"{out.title} over {before}"
    return _file(form, Drawn(display, page_box(display), out.title, out.style.scale, DPI))


def export_sheet(sheet_id: int, form: str, dpi: float = DPI) -> File:
    with reading() as session:
        row = sheet_row(session, sheet_id)
        display = sheet_display(session, row)
    return _file(form, Drawn(display, display.frame, f"{row.number} {row.title}", None, dpi))


def _file(form: str, drawn: Drawn) -> File:
    output = OUTPUTS[form]
    try:
        return File(f"{plain_name(drawn.title)}.{form}", output.media_type, output.file(drawn))
    except TooManyPixels as error:
        raise Refused(str(error), "dpi") from error
