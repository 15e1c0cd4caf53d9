"""Edge Slice as a library: read a model, cut it, draw it, write it.

Cuts are said in metres of the model, by the documents of `edge_slice.core.cut`; what is drawn is in millimetres of
paper. Names of this module are those of `edge_slice` itself."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import ArrayLike

from edge_slice.core.cut import AnyCut, CutResult, ElevationCut, PlanCut, PlaneCut, SectionCut, cut_model
from edge_slice.core.cut.placing.junctions import whole_wall_section
from edge_slice.core.cut.placing.report import CutReport, cut_report
from edge_slice.core.cut.planes.leaves import check_breaks, leaves_of, whole_window
from edge_slice.core.cut.planes.sets import elevations_of, plans_of
from edge_slice.core.cut.spec import Opening
from edge_slice.core.drawing import (
    SHIPPED,
    DisplayList,
    DrawingSpec,
    DrawingStandard,
    compose_drawing,
    shipped_standard,
)
from edge_slice.core.drawing.paper import check_paper
from edge_slice.core.model import Model
from edge_slice.core.model.files.any_file import read_model
from edge_slice.core.model.files.units import Unit, Up
from edge_slice.core.model.mesh.bodies import box as box
from edge_slice.core.model.mesh.bodies import model_of_bodies
from edge_slice.core.render.outputs import DPI, OUTPUTS, Drawn, Output
from edge_slice.core.render.page import page_box
from edge_slice.core.solid.plane_cuts import View, view_cut

Place = tuple[float, float]


def read(path: str | Path, unit: Unit | None = None, up: Up | None = None, threads: int = 2) -> Model:
    """The building in a file: IFC, glTF, GLB, OBJ, STL or PLY, by its ending.

    `unit`, `up`: what lengths of OBJ, STL and PLY are, and which axis points up; the others say it themselves. Raises
    `UnreadableModel` with what is wrong, and `FileNotFoundError`.

    >>> from pathlib import Path
    >>> points, faces = "v 0 0 0\\nv 1 0 0\\nv 0 1 0\\nv 0 0 3\\n", "f 1 3 2\\nf 1 2 4\\nf 2 3 4\\nf 3 1 4\\n"
    >>> _ = Path("post.obj").write_text(f"o post\\n{points}{faces}")
    >>> model = read("post.obj", unit="m")
    >>> [(e.name, e.kind) for e in model.elements]
    [('post', 'column')]
    >>> Path("post.obj").unlink()
    """
    return read_model(Path(path), threads=threads, unit=unit, up=up)


def model_of(bodies: Sequence[tuple[str, str, ArrayLike, ArrayLike]], name: str = "Model") -> Model:
    """A model of bodies of your own: for each its name, the name of its material, points (n, 3) in metres and triangles
    (m, 3), numbers of points. The kind of an element comes from its name. Raises `UnreadableModel` where nothing has an
    area.

    >>> wall = ("north wall", "Brick", *box((0, 5, 0), (4, 5.3, 3)))
    >>> slab = ("floor slab", "Concrete", *box((0, 0, -0.2), (4, 5.3, 0)))
    >>> [e.kind for e in model_of([wall, slab]).elements]
    ['wall', 'slab']
    """
    parts = [(n, m, np.asarray(p, dtype=np.float64), np.asarray(t, dtype=np.int64)) for n, m, p, t in bodies]
    return model_of_bodies(name, parts)


@dataclass(frozen=True, repr=False)
class Drawing:
    """A drawing that was made: its model, cut and style; the cut faces and lines (`result`, mm in the drawing); what is
    drawn (`display`, mm on paper). A notebook shows it as it is."""

    model: Model
    cut: AnyCut
    style: DrawingSpec
    standard: DrawingStandard
    result: CutResult
    display: DisplayList

    def __repr__(self) -> str:
        left, base, right, top = page_box(self.display)
        size = f"{right - left:.0f} × {top - base:.0f} mm"
        return f"<Drawing 1:{self.style.scale:g}, {size}, {len(self.result.faces)} cut faces>"

    @property
    def findings(self) -> tuple[str, ...]:
        """What is doubtful about the drawing, in words."""
        return self.display.findings

    def report(self) -> CutReport:
        """What an upright cut passes through, in order, and what it just misses; metres."""
        return cut_report(self.model, self.result)

    def file(self, form: str, dpi: float = DPI) -> bytes:
        """The bytes of a file: "pdf", "svg", "dxf" or "png" (`dpi`: its dots an inch). Raises `ValueError` for another
        form, `TooManyPixels` for too large a picture."""
        return _output(form).file(Drawn(self.display, page_box(self.display), self.model.name, self.style.scale, dpi))

    def save(self, path: str | Path, dpi: float = DPI) -> Path:
        """Write a file by the ending of its name, as `file` does."""
        target = Path(path)
        target.write_bytes(self.file(target.suffix.lower().removeprefix("."), dpi))
        return target

    def _repr_svg_(self) -> str:
        return self.file("svg").decode()


def _output(form: str) -> Output:
    if form not in OUTPUTS:
        raise ValueError(f"drawings become files of {', '.join(OUTPUTS)}, not {form or 'nothing'!r}")
    return OUTPUTS[form]


def draw(model: Model, cut: AnyCut, standard: str | DrawingStandard = "fine-line", **style: Any) -> Drawing:
    """A plan, section, elevation or free section of a model, drawn by a standard (one of yours, or the name of one that
    comes along). `style`: fields of `DrawingSpec`, `scale` before all (50 where it isn't said). Raises `ImpossibleCut`
    with what is wrong, and pydantic's `ValidationError` for fields that there are not.

    >>> west, east = box((0, 0, 0), (0.3, 5, 3)), box((3.7, 0, 0), (4, 5, 3))
    >>> hut = model_of([("west wall", "Brick", *west), ("east wall", "Brick", *east)])
    >>> drawing = draw(hut, SectionCut(line=((-1, 2), (5, 2)), depth=4), scale=20)
    >>> drawing
    <Drawing 1:20, 344 × 245 mm, 2 cut faces>
    >>> [round(face.polygon.area / 1e6, 2) for face in drawing.result.faces]  # square metres
    [0.9, 0.9]
    """
    rules = standard if isinstance(standard, DrawingStandard) else _standard(standard)
    spec = DrawingSpec.model_validate(style)
    shown, result = cut_as_shown(model, cut, spec, rules)
    return Drawing(model, shown, spec, rules, result, compose_drawing(model, result, shown, spec, rules))


def _standard(name: str) -> DrawingStandard:
    if name not in SHIPPED:
        raise ValueError(f"there is no standard {name!r}; there are {', '.join(SHIPPED)}")
    return shipped_standard(name)


def cut_as_shown(model: Model, cut: AnyCut, style: DrawingSpec, standard: DrawingStandard) -> tuple[AnyCut, CutResult]:
    """A cut with what its standard leaves out at this scale, and its faces and lines (mm in the drawing). Raises
    `ImpossibleCut`, also where it would be too large on paper.

    >>> post = model_of([("post", "Oak", *box((0, 0, 0), (0.1, 0.1, 3)))])
    >>> plan, style = PlanCut(storey="lowest", height=1), DrawingSpec(scale=5)
    >>> _, result = cut_as_shown(post, plan, style, shipped_standard("bold"))
    >>> len(result.faces), result.is_empty
    (1, False)
    """
    shown = standard.shown_cut(cut, style.scale)
    leaves = leaves_of(model, shown)
    check_breaks(shown, leaves)
    check_paper(whole_window(leaves), style.scale)
    return shown, cut_model(model, shown, standard.cut_rules(model))


def plans(model: Model, standard: str | DrawingStandard = "fine-line") -> tuple[PlanCut, ...]:
    """A plan of each storey that walls or columns stand on, as deep as a standard has it.

    >>> hut = model_of([("west wall", "Brick", *box((0, 0, 0), (0.3, 5, 3)))])
    >>> [plan.height for plan in plans(hut)]
    [1.2]
    """
    usual = (standard if isinstance(standard, DrawingStandard) else _standard(standard)).conventions
    return plans_of(model, (usual.below_floor, usual.overhead))


def elevations(model: Model) -> tuple[ElevationCut, ...]:
    """The four elevations square to the building.

    >>> hut = model_of([("west wall", "Brick", *box((0, 0, 0), (0.3, 5, 3)))])
    >>> len(elevations(hut))
    4
    """
    return elevations_of(model)


def view_of(
    model: Model,
    towards: tuple[float, float, float],
    openings: Sequence[Opening] = (),
    eye: tuple[float, float, float] | None = None,
    angle: float = 60.0,
) -> PlaneCut:
    """A view of the building in three dimensions, opened: parallel from a direction (`towards` the viewer), or from an
    `eye` (metres) that sees so wide (degrees). Raises `ImpossibleCut` where nothing is seen.

    >>> hut = model_of([("block", "Brick", *box((0, 0, 0), (4, 3, 2)))])
    >>> half = Opening(planes=({"point": (0, 0, 1), "normal": (0, 0, 1)},))
    >>> draw(hut, view_of(hut, (-1, -1, 1), [half]), scale=50).result.standing[0].seen.area > 0
    True
    """
    return view_cut(model, View(towards, eye, angle), tuple(openings))


def wall_section(model: Model, at: Place, look: str = "left") -> SectionCut:
    """The section of the wall at a place on plan (metres), from under its foundation to over its roof, broken where
    nothing happens. Raises `ImpossibleCut` where no wall stands.

    >>> hut = model_of([("west wall", "Brick", *box((0, 0, 0), (0.3, 5, 3)))])
    >>> cut = wall_section(hut, (0.1, 2.5))
    >>> cut.line[0][1], cut.line[1][1]  # across the wall
    (2.5, 2.5)
    """
    return whole_wall_section(model, at, look)[0]
