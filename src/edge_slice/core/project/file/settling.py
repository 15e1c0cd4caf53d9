"""What a project file leaves to the computer is settled: annotations tied to spots, automatic sets, arranged sheets."""

from __future__ import annotations

import json
import zlib
from typing import Any

from pydantic import ValidationError

from edge_slice.core.annotating.documents import ANNOTATION, AnyAnnotation
from edge_slice.core.annotating.sets import proposed
from edge_slice.core.annotating.spots import NothingThere, Spot, annotation_at
from edge_slice.core.drawing.touching.touch_ups import TouchUp
from edge_slice.core.drawing.touching.touched_bodies import Nowhere, touched_up
from edge_slice.core.project.boards import shape_of
from edge_slice.core.project.drawings import Drawings
from edge_slice.core.project.file.file_rows import FileAnnotation, FileDrawing, FilePlacement
from edge_slice.core.project.file.file_source import PICTURE, FileProject
from edge_slice.core.project.file.project_file import DrawingTable, SheetTable
from edge_slice.core.project.known_names import in_annotation, in_touch_up, known_to_standard
from edge_slice.core.project.refused import Refused
from edge_slice.core.sheet import design_problems
from edge_slice.core.sheet.arranging import areas_of, arranged, reading_order
from edge_slice.core.sheet.numbering import free_number


def settle(project: FileProject) -> list[str]:
    """Settle everything; what of the automatic sets found no place is said. Raises `Refused`."""
    findings: list[str] = []
    for sheet in project.document.sheet:
        problems = design_problems(project.design(sheet.design), sheet.size)
        if problems:
            raise Refused(f"Sheet {sheet.number}: {problems[0]}", "size")
    for row, table in zip(project.drawings(), project.document.drawing, strict=True):
        _add_touch_ups(project, row, table)
        _add_annotations(project, row, table)
    for row, table in zip(project.drawings(), project.document.drawing, strict=True):
        findings += _place_sets(project, row, table)
    for number, sheet in enumerate(project.document.sheet, 1):
        if sheet.arrange:
            _arrange(project, number, sheet)
    return findings


def _add_touch_ups(project: FileProject, row: FileDrawing, table: DrawingTable) -> None:
    found: list[tuple[int, TouchUp]] = []
    for one in table.touch_up:
        number = sum(len(t) for t in project.touched.values()) + len(found) + 1
        if not isinstance(one, TouchUp):
            try:
                one = touched_up(Drawings(project).board(row).board.features, one)
            except Nowhere as error:
                raise Refused(f"Drawing “{table.key}”: {error}", "touch_up") from error
        known = known_to_standard(project.standard(row.style["standard"]))
        project.check_names(table.key, in_touch_up(one), known)
        found.append((number, one))
    if found:
        project.touched[row.id or 0] = found


def _add_annotations(project: FileProject, row: FileDrawing, table: DrawingTable) -> None:
    for given in table.annotation:
        try:
            document = _document(project, row, given)
            known = known_to_standard(project.standard(row.style["standard"]))
            project.check_names(table.key, in_annotation(document), known)
            _add(project, row, document)
        except ValidationError as error:
            first = error.errors(include_url=False)[0]
            place = ".".join(str(part) for part in first["loc"][1:])
            raise Refused(f"Drawing “{table.key}”, an annotation: {place} {first['msg']}", "annotation") from error
        except NothingThere as error:
            raise Refused(f"Drawing “{table.key}”, an annotation: {error}", "annotation") from error


def _document(project: FileProject, row: FileDrawing, given: dict[str, Any]) -> AnyAnnotation:
    given = dict(given)
    if given.get("kind") == "picture" and not PICTURE.fullmatch(str(given.get("image"))):
        given["image"] = project.take_picture(str(given.get("image")))
    spots = given.pop("spots", None)
    if spots is None:
        return ANNOTATION.validate_python(given)
    stood = Drawings(project).board(row)
    return annotation_at(stood.board.features, stood.board.cut, [Spot.model_validate(s) for s in spots], given)


def _add(project: FileProject, row: FileDrawing, document: AnyAnnotation) -> None:
    number = sum(len(rows) for rows in project.annotated.values()) + 1
    said = document.model_dump(mode="json", by_alias=True)
    version = zlib.crc32(json.dumps(said, sort_keys=True).encode())  # shapes are kept by number and version
    project.annotated.setdefault(row.id or 0, []).append(FileAnnotation(number, said, version))


def _place_sets(project: FileProject, row: FileDrawing, table: DrawingTable) -> list[str]:
    """The automatic sets of a drawing, clear of what it has."""
    findings: list[str] = []
    for rule in table.annotate:
        if rule == "openings":
            raise Refused(f"Drawing “{table.key}”: the openings of a wall are dimensioned on the drawing.", "annotate")
        if rule == "rooms":  # else each room would be named twice
            row.style = row.style | {"rooms": False}
        drawings = Drawings(project)
        stood = drawings.board(row)
        there = [item for one in project.annotations(row.id or 0) for item in shape_of(stood, one).items]
        found = proposed(stood.board, rule, [*drawings.plain(row).items, *there])
        findings += [f"Drawing “{table.key}”: {finding}" for finding in found.findings]
        for document in found.annotations:
            _add(project, row, document)
    return findings


def _arrange(project: FileProject, number: int, sheet: SheetTable) -> None:
    """Lay drawings out on a sheet in reading order. Raises `Refused` where one finds no room."""
    if sheet.placement:
        raise Refused(f"Sheet {sheet.number} has placements and is to be arranged; give one of both.", "arrange")
    drawings, design = Drawings(project), project.design(sheet.design)
    rows = [project.drawing(project.number(key)) for key in sheet.arrange]
    wanted = [drawings.wanted(row) for row in rows if row is not None]
    places = arranged(wanted, areas_of(design, sheet.size), design.taken(sheet.size))
    for key, place, one in zip(sheet.arrange, places, wanted, strict=True):
        if place is None:
            wide, high = one.outer
            raise Refused(
                f"Sheet {sheet.number}: drawing “{key}” takes {wide:.0f} × {high:.0f} mm with what stands around it and"
                " finds no room; choose a larger sheet, a smaller scale, or another sheet for it.",
                "arrange",
            )
    boxes = [one.at(place) for one, place in zip(wanted, places, strict=True) if place is not None]
    for k in reading_order(boxes):
        place, drawing = places[k], project.number(sheet.arrange[k])
        taken = {p.number for p in project.placed if p.sheet_id == number}
        home = all(p.drawing_id != drawing for p in project.placed)
        if place is not None:
            project.placed.append(
                FilePlacement(len(project.placed) + 1, number, drawing, free_number(taken), *place, home)
            )
