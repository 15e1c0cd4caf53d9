"""What commands make: drawings as files."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from edge_slice.command_line import arguments as args
from edge_slice.command_line.arguments import wrong
from edge_slice.command_line.cut_drawing import CutDrawing
from edge_slice.command_line.ground import in_ground
from edge_slice.command_line.reading import model_of
from edge_slice.command_line.ruled import as_ruled
from edge_slice.command_line.seen_surfaces import appearance_named, surface_style
from edge_slice.core.cut import AnyCut, PlanCut, cut_model
from edge_slice.core.drawing import DisplayList, DrawingSpec, DrawingStandard, compose_drawing
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.drawing.annotations.surroundings import Surroundings
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.model import Model
from edge_slice.core.render.cut_json import cut_document
from edge_slice.core.render.outputs import CUT, DPI, OUTPUTS, Drawn, TooManyPixels
from edge_slice.core.render.page import page_box
from edge_slice.library import cut_as_shown

LEAST_DPI, MOST_DPI = 10.0, 1200.0


def style_of(options: argparse.Namespace, standard: DrawingStandard) -> DrawingSpec:
    return DrawingSpec(
        scale=options.scale,
        fill=options.fill,
        content=options.content,
        section_rooms=options.section_rooms,
        frame=options.frame,
        appearance=appearance_named(options, standard),
        surfaces=surface_style(options),
    )


def write(
    options: argparse.Namespace, model: Model, spec: AnyCut, out: Path, callouts: tuple[CalloutMark, ...] = ()
) -> None:
    standard = args.standard_of(options.standard)
    spec, style = as_ruled(options, model, standard, (spec, style_of(options, standard)))
    shown, result = cut_as_shown(model, spec, style, standard)
    if result.is_empty:
        print("edge-slice: the cut meets nothing; the drawing is empty", file=sys.stderr)
    if out.suffix.lower() == f".{CUT}":
        document = cut_document(model, result, style.scale, standard)
        out.write_text(json.dumps(document, ensure_ascii=False, separators=(",", ":")) + "\n", "utf-8")
        return
    made = CutDrawing(model, result, shown, style, standard, callouts)
    display = _composed(options, made)
    if options.earlier is not None:
        display = over_earlier(options, made, display)
    draw(display, model.name, out, style.scale, options.dpi)


def _composed(options: argparse.Namespace, made: CutDrawing) -> DisplayList:
    """The drawing with its annotations and touch-ups, if it is given any; what it takes to make these is loaded then
    alone."""
    if not options.annotate and options.added is None:
        around = Surroundings(callouts=made.callouts)
        display = compose_drawing(made.model, made.result, made.cut, made.style, made.standard, around)
    else:
        from edge_slice.command_line.annotated import with_added

        display = with_added(options, made, tell)
    for finding in display.findings:
        tell(finding)
    return display


def tell(finding: str) -> None:
    print(f"edge-slice: {finding}", file=sys.stderr)


def over_earlier(options: argparse.Namespace, made: CutDrawing, display: DisplayList) -> DisplayList:
    """A drawing laid over that of an earlier file; where it changed is told."""
    if not options.earlier.is_file():
        wrong(f"there is no file {options.earlier}")
    from edge_slice.core.drawing.comparison import CutModel, States, compared
    from edge_slice.core.model.revisions import revised

    old = in_ground(options, model_of(options.earlier, options))
    known, changes = revised(old, made.model)
    before = cut_model(old, in_earlier(old, made.model, made.cut), made.standard.cut_rules(old))
    fold = Fold.of(made.result.extents, made.cut.extents, made.style.scale, made.standard.breaks)
    states = States(CutModel(old, before), CutModel(known, made.result))
    found = compared(states, display, changes, fold, made.style.scale)
    for place in found.places:
        print(f"{place.what}: {place.name or place.kind}")
    return found.display


def in_earlier(old: Model, new: Model, cut: AnyCut) -> AnyCut:
    """A plan's storey as the older model names it."""
    if not isinstance(cut, PlanCut):
        return cut
    name = next((s.name for s in new.storeys if s.guid == cut.storey), "")
    found = next((s.guid for s in old.storeys if s.guid == cut.storey or s.name == name), cut.storey)
    return cut.model_copy(update={"storey": found})


def draw(display: DisplayList, title: str, out: Path, scale: float | None = None, dpi: float = DPI) -> None:
    """Write what is drawn, by the ending of the file; `scale`: where it has one; `dpi`: of pictures."""
    output = OUTPUTS[out.suffix.lower()[1:]]  # `check_form` saw to that
    if not LEAST_DPI <= dpi <= MOST_DPI:
        args.wrong(f"--dpi must lie between {LEAST_DPI:g} and {MOST_DPI:g}")
    try:
        out.write_bytes(output.file(Drawn(display, page_box(display), title, scale, dpi)))
    except TooManyPixels as error:
        args.wrong(f"--dpi: {error}")
