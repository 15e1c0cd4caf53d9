"""Drawings and sheets as files."""

from __future__ import annotations

import io
import zipfile
from dataclasses import dataclass
from typing import Literal

from edge_slice.app.annotating.boards import drawing_display
from edge_slice.app.drawings.drawing_rows import drawing_row
from edge_slice.app.drawings.lineage import drawing_out
from edge_slice.app.errors import Refused
from edge_slice.app.models.comparisons import compared_with
from edge_slice.app.sheets.sheet_views import sheet_display, sheet_row
from edge_slice.app.views.composed import drawing_cut, json_document
from edge_slice.core.drawing.display import Box, DisplayList
from edge_slice.core.render.files import DPI, Form, TooManyPixels, file_bytes, plain_name
from edge_slice.core.render.page import page_box
from edge_slice.store.database import reading


@dataclass(frozen=True)
class File:
    name: str
    media_type: str
    data: bytes


MEDIA = {
    "svg": "image/svg+xml", "pdf": "application/pdf", "dxf": "image/vnd.dxf", "png": "image/png",
    "json": "application/json",
}  # fmt: skip


LONG_AGO = (1980, 1, 1, 0, 0, 0)  # of files in an archive: the same bytes on every day


def archive(files: list[tuple[str, bytes]]) -> bytes:
    """Files, by name, as one ZIP archive."""
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as found:
        for name, data in files:
            found.writestr(zipfile.ZipInfo(name, LONG_AGO), data, zipfile.ZIP_DEFLATED)
    return stream.getvalue()


def export_drawing(drawing_id: int, form: Form | Literal["json"], earlier: int | None = None) -> File:
    """A drawing as a file; over an `earlier` revision of the model, if one is named."""
    with reading() as session:
        row = drawing_row(session, drawing_id)
        out = drawing_out(session, row)
        if form == "json":
            return _file(out.title, form, json_document(drawing_cut(session, row)).encode())
        display = drawing_display(session, row) if earlier is None else compared_with(session, row, earlier)[1].display
    if earlier is not None:
        out.title = f"{out.title} over revision {earlier}"
    return _drawn(out.title, form, display, page_box(display), out.style.scale, DPI)


def export_sheet(sheet_id: int, form: Form, dpi: float = DPI) -> File:
    with reading() as session:
        row = sheet_row(session, sheet_id)
        display = sheet_display(session, row)
    return _drawn(f"{row.number} {row.title}", form, display, display.frame, None, dpi)


def _drawn(title: str, form: Form, display: DisplayList, box: Box, scale: float | None, dpi: float) -> File:
    try:
        return _file(title, form, file_bytes(form, display, box, scale, title, dpi))
    except TooManyPixels as error:
        raise Refused(str(error), "dpi") from error


def _file(title: str, form: str, data: bytes) -> File:
    return File(f"{plain_name(title)}.{form}", MEDIA[form], data)
