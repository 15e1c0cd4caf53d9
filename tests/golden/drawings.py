"""python -m tests.golden.drawings: writes the golden drawings anew. Look at them before they are committed."""

from __future__ import annotations

from pathlib import Path

from edge_slice.core.cut import AnyCut, Extents, Perspective, PlanCut, PlaneCut, SectionCut, cut_model
from edge_slice.core.cut.planes.sets import elevations_of
from edge_slice.core.drawing import DrawingSpec, compose_drawing, shipped_standard
from edge_slice.core.model import Model
from edge_slice.core.model.ifc.reading import read_ifc
from edge_slice.core.render.page import page_box
from edge_slice.core.render.svg import to_svg

FOLDER = Path(__file__).parent
DEMO = FOLDER.parents[1] / "demo" / "curlew-point.ifc"
SMALL = ("planting", "furniture", "person", "vehicle")


def golden_drawings(model: Model) -> dict[str, tuple[AnyCut, DrawingSpec]]:
    """What is drawn, by file name: a cut and its graphics each, without lettering, cropped to stay readable."""
    upper, lower = model.storeys[2].guid, model.storeys[1].guid

    def plain(scale: float, **more: object) -> DrawingSpec:
        return DrawingSpec(scale=scale, levels=False, grid=False, rooms=False, **more)  # type: ignore[arg-type]

    wall = SectionCut(line=((-3, 2.1), (25, 2.1)), depth=2, extents=Extents(left=2.6, right=3.6, base=2.9, top=3.6))
    corner = PlanCut(storey=upper, depth=1.0, extents=Extents(left=-0.6, right=0.9, base=-0.6, top=0.9))
    stepped = SectionCut(line=((-2, 2.1), (10, 2.1), (10, 6.9), (24, 6.9)), depths=(3, 5), without=SMALL)
    stair = Extents(left=11, right=20, base=-0.3, top=3.2)
    lens = Perspective(distance=6, eye=(15, 1.5))
    deep = SectionCut(line=((-2, 6.0), (24, 6.0)), depth=6, extents=stair, without=SMALL, perspective=lens)
    ceiling = PlanCut(
        storey=lower, look="up", depth=1.9, extents=Extents(left=6, right=12, base=0, top=6), without=SMALL
    )
    roof = PlaneCut(
        point=(5, 5, 7),
        normal=(0.3, -1, 0.4),
        depth=1,
        extents=Extents(left=-4, right=4, base=-2, top=3),
        without=SMALL,
    )
    return {
        "wall-at-1-10": (wall, plain(10)),
        "corner-at-1-20": (corner, plain(20)),
        "stepped-at-1-200": (stepped, plain(200, content="outline", fill="colour")),
        "south-elevation-at-1-200": (elevations_of(model, SMALL)[2], plain(200)),
        "perspective-at-1-100": (deep, plain(100, fill="solid")),
        "ceiling-at-1-100": (ceiling, plain(100)),
        "free-plane-at-1-100": (roof, plain(100, standard="bold")),
    }


def drawn(model: Model, cut: AnyCut, style: DrawingSpec, title: str) -> str:
    standard = shipped_standard(style.standard)
    shown = standard.shown_cut(cut, style.scale)
    result = cut_model(model, shown, standard.cut_rules(model))
    display = compose_drawing(model, result, shown, style, standard)
    return to_svg(display, page_box(display), title)


def main() -> None:
    model = read_ifc(DEMO, threads=2)
    for name, (cut, style) in golden_drawings(model).items():
        path = FOLDER / f"{name}.svg"
        path.write_text(drawn(model, cut, style, name), "utf-8")
        print(f"{path.name:<32}{path.stat().st_size / 1024:>7.0f} KB")


if __name__ == "__main__":
    main()
