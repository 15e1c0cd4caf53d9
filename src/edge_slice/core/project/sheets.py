"""The sheets of a project as they are printed, in the order of its register."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import cached_property
from typing import Generic, TypeVar, cast

from edge_slice.core.drawing import DisplayList, DrawingSpec, default_standard
from edge_slice.core.drawing.display import Box
from edge_slice.core.drawing.measures import scale_text
from edge_slice.core.project.documents import PlacementTitle, SheetFields, Trim
from edge_slice.core.project.drawings import Drawings
from edge_slice.core.project.source import DrawingRow, PlacementRow, SheetRow
from edge_slice.core.project.tables import Tables, table_boxes
from edge_slice.core.recent import Recent
from edge_slice.core.render.binding import Entry, Leaf
from edge_slice.core.render.colours import coloured
from edge_slice.core.render.file_names import plain_name
from edge_slice.core.render.outputs import OUTPUTS, Drawn
from edge_slice.core.render.pdf import page_pdf
from edge_slice.core.sheet import (
    IssuedRow,
    KeyOutline,
    ListedDrawing,
    ListedSheet,
    PlacedDrawing,
    SheetDesign,
    SheetSize,
    SheetSpec,
    TitleStyle,
    compose_sheet,
    trimmed_box,
)
from edge_slice.core.sheet.arranging import Wanted
from edge_slice.core.sheet.key_plan import F64, building_outline, key_outline
from edge_slice.core.sheet.numbering import Register
from edge_slice.core.sheet.plots import PlotSpec, plot_of, plotted, said_of

_outlines: Recent[tuple[F64, ...]] = Recent("outlines of storeys", 8)  # by geometry
S = TypeVar("S", bound=SheetRow)
P = TypeVar("P", bound=PlacementRow)
D = TypeVar("D", bound=DrawingRow)


def size_of(row: SheetRow) -> SheetSize:
    return cast(SheetSize, row.size)


def scale_of(row: DrawingRow) -> float:
    return DrawingSpec.model_validate(row.style).scale


def sheet_title(row: SheetRow) -> str:
    """What a sheet is called in files and bookmarks."""
    return f"{row.number} {row.title}"


def sheet_file_name(row: SheetRow, form: str) -> str:
    return f"{plain_name(sheet_title(row))}.{form}"


def trim_of(placed: PlacementRow) -> Box:
    trim = Trim.model_validate(placed.trim)
    return (trim.left, trim.base, trim.right, trim.top)


def _issued_before(row: SheetRow) -> tuple[IssuedRow, ...]:
    rows = SheetFields.model_validate(row.fields).issued
    return tuple(IssuedRow(r.code, r.date, r.purpose, r.by) for r in rows)


def folder_of(register: Register, row: SheetRow) -> str:
    """The folder of a sheet: the one that it was put into, else the one that its number belongs to, else the first."""
    keys = [f.key for f in register.folders]
    if row.folder in keys:
        return row.folder
    return next((k for k in keys if register.counter(k, row.number) is not None), keys[0])


def in_order(register: Register, rows: Sequence[S]) -> list[S]:
    """Sheets as the register has them."""
    keys = [f.key for f in register.folders]
    return sorted(rows, key=lambda r: (keys.index(folder_of(register, r)), r.place, r.number))


class Sheets(Generic[S, P, D]):
    """What sheets depend on is read once for all of them; `placements`: of those on one sheet the one on top last."""

    def __init__(self, drawn_as: Drawings, sheets: Sequence[S], placements: Sequence[P], drawings: Sequence[D]) -> None:
        source = drawn_as.source
        self.drawn_as, self.source, self.register = drawn_as, source, source.register
        self.sheets = in_order(self.register, sheets)
        self.drawings: dict[int, D] = {d.id or 0: d for d in drawings}
        self.placements: dict[int, list[P]] = {}
        for placed in placements:
            self.placements.setdefault(placed.sheet_id, []).append(placed)
        issued = source.issued()
        self.issued = {s.id or 0: (*issued.get(s.id or 0, ()), *_issued_before(s)) for s in sheets}

    def with_issue(self, sheets: set[int], row: IssuedRow) -> None:
        """Let these sheets have been issued."""
        self.issued |= {s: (row, *self.issued.get(s, ())) for s in sheets}

    def on(self, row: S) -> list[P]:
        """The placements of a sheet, the one on top last."""
        return self.placements.get(row.id or 0, [])

    def design(self, row: S) -> SheetDesign:
        return self.source.design(row.design)

    def title(self, drawing: D) -> str:
        return self.drawn_as.title(drawing)

    def whole_box(self, placed: P) -> Box:
        wide, high = self.drawn_as.frame_size(self.drawings[placed.drawing_id])
        return (placed.x, placed.y, placed.x + wide, placed.y + high)

    def box(self, placed: P) -> Box:
        return trimmed_box(self.whole_box(placed), trim_of(placed))

    def wanted(self, placed: P) -> Wanted:
        """What room a placement takes, as it is trimmed and titled."""
        drawing, trim = self.drawings[placed.drawing_id], trim_of(placed)
        whole = self.drawn_as.wanted(drawing, PlacementTitle.model_validate(placed.title).shown)
        left, base, right, top = (r - t for r, t in zip(whole.room, trim, strict=True))
        return replace(whole, room=(left, base, right, top))

    @cached_property
    def tables(self) -> Tables:
        return Tables(self)

    def scale_text(self, drawing: D) -> str:
        return scale_text(scale_of(drawing))

    def taken(self, row: S) -> list[Box]:
        """What of a sheet the parts of its design and its tables take."""
        return [*self.design(row).taken(size_of(row)), *table_boxes(row)]

    @cached_property
    def order(self) -> dict[int | None, int]:
        """Where each sheet stands in the register."""
        return {s.id: k for k, s in enumerate(self.sheets)}

    @property
    def listed(self) -> tuple[ListedSheet, ...]:
        """The register as sheets show it."""
        return tuple(ListedSheet(s.number, s.title, self.revision_of(s), f"sheet:{s.id}") for s in self.sheets)

    @cached_property
    def drawings_listed(self) -> tuple[ListedDrawing, ...]:
        """All drawings at their homes, in the order of the register."""
        found = []
        for sheet in self.sheets:
            for placed in sorted((p for p in self.on(sheet) if p.home), key=lambda p: (len(p.number), p.number)):
                drawing = self.drawings[placed.drawing_id]
                number, scale = f"{placed.number}/{sheet.number}", self.scale_text(drawing)
                found.append(ListedDrawing(number, self.title(drawing), scale, f"drawing:{drawing.id}"))
        return tuple(found)

    def revision_of(self, row: S) -> str:
        """The code of the newest issue that a sheet was in, before that what was typed."""
        rows = self.issued.get(row.id or 0, ())
        return rows[0].code if rows else SheetFields.model_validate(row.fields).revision

    def key_plan(self, row: S) -> KeyOutline:
        outline = _outlines.get(self.source.geometry, lambda: building_outline(self.source.model))
        cuts = [self.drawn_as.followed.cut_of(self.drawings[p.drawing_id]) for p in self.on(row)]
        return key_outline(self.source.model, outline, cuts)

    def display(self, row: S, design: SheetDesign | None = None) -> DisplayList:
        """The whole sheet as it is printed, by a `design` that is not saved if one is given."""
        design, source = design or self.design(row), self.source
        north = source.facts["north"]
        kinds = {p.kind for p in design.parts}
        pictures = {p.picture: source.picture(p.picture) for p in design.parts if p.kind == "logo"}
        spec = SheetSpec(
            number=row.number, title=row.title, size=size_of(row), project=source.name, client=source.client,
            north=(north[0], north[1]), folder=self.folder_name(row), sheet=self.order[row.id] + 1,
            sheets=len(self.sheets), lengths=source.lengths, design=design, issued=self.issued.get(row.id or 0, ()),
            register=self.listed if "sheet list" in kinds else (),
            drawings=self.drawings_listed if "drawing list" in kinds else (),
            key=self.key_plan(row) if "key plan" in kinds else None, pictures=pictures,
            tables=tuple(self.tables.on(row)),
            **SheetFields.model_validate(row.fields).model_dump(exclude={"issued", "tables"}),
        )  # fmt: skip
        return compose_sheet(spec, tuple(self._placed(p) for p in self.on(row)), default_standard())

    def file(self, row: S, form: str, dpi: float) -> bytes:
        """A sheet as a file; `dpi` of a picture. Raises `TooManyPixels`."""
        display = self.display(row)
        return OUTPUTS[form].file(Drawn(display, display.frame, sheet_title(row), None, dpi))

    def leaf(self, row: S, plot: PlotSpec | None = None) -> Leaf:
        """A sheet as a page that can be bound, plotted as it is said. Markers lead to the homes of drawings. Raises
        `DoesNotFit`."""
        display = self.display(row)
        laid = None if plot is None else plot_of(plot, size_of(row), self.design(row).frame(size_of(row)), row.number)
        if plot is not None and laid is not None:
            scales = [scale_of(self.drawings[p.drawing_id]) for p in self.on(row)]
            display = plotted(display, laid, said_of(laid, sheet_title(row), scales), default_standard().ink)
            display = coloured(display, plot.colours)
        grey = plot is not None and plot.colours != "as drawn"
        entries = []
        for placed in self.on(row):
            name = self.title(self.drawings[placed.drawing_id])
            target = f"drawing:{placed.drawing_id}" if placed.home else ""
            box = self.box(placed) if laid is None else laid.on_paper(self.box(placed))
            entries.append(Entry(f"{placed.number} {name}", box, target))
        pdf = page_pdf(display, display.frame, None if laid is None else laid.printable, grey)
        return Leaf(
            pdf,
            sheet_title(row),
            display.frame,
            self.folder_name(row),
            f"sheet:{row.id}",
            tuple(entries),
            display.links,
        )

    def folder_name(self, row: S) -> str:
        return self.register.folder(folder_of(self.register, row)).name

    def _placed(self, placed: P) -> PlacedDrawing:
        drawing = self.drawings[placed.drawing_id]
        return PlacedDrawing(
            placed.drawing_id, placed.id or 0, placed.number, self.title(drawing), scale_of(drawing),
            self.drawn_as.display(drawing), placed.x, placed.y, self.drawn_as.called_from(drawing),
            trim_of(placed), TitleStyle(**PlacementTitle.model_validate(placed.title).model_dump()),
            self.source.standard(DrawingSpec.model_validate(drawing.style).standard),
        )  # fmt: skip
