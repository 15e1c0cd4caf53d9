"""Models put together from parts: drawn as one file is; placed by what the files say; what both hold once."""

from __future__ import annotations

import math
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import AnyCut, PlanCut, SectionCut, cut_model
from edge_slice.core.model import Model
from edge_slice.core.model.building import GridAxis, MapPlace, Part, Storey
from edge_slice.core.model.files.any_file import read_model
from edge_slice.core.model.merging import with_elements
from edge_slice.core.model.parts.disciplines import guessed_discipline
from edge_slice.core.model.parts.places import (
    AS_IT_IS,
    PartPlace,
    by_two_points,
    placed,
    proposed_place,
)
from edge_slice.core.model.parts.putting_together import PlacedPart, distinct, put_together
from edge_slice.core.model.revisions import file_guid, revised
from edge_slice.core.model.storage import model_from_bytes, model_to_bytes
from tests.bodies import box, model_of, pierced_box
from tests.ifc_files import Hut, write_hut
from tests.walls import Wall, house

STRUCTURE = {"beam", "column", "footing", "slab"}
LINE = SectionCut(line=((11.3, -8.0), (11.3, 30.0)), look="left", depth=12.0)
metres = st.floats(-300, 300, allow_nan=False).map(lambda v: round(v, 3))
places = st.builds(PartPlace, x=metres, y=metres, z=st.floats(-9, 9).map(lambda v: round(v, 3)),
                   turn=st.integers(-179, 180).map(float))  # fmt: skip


def one_of(name: str, model: Model, place: PartPlace = AS_IT_IS, discipline: str = "architecture") -> PlacedPart:
    return PlacedPart(Part(name, name, discipline), model, place)


def inverse(place: PartPlace) -> PartPlace:
    """Found by two points: where the zero and a point on the x axis came to lie."""
    turn = math.radians(place.turn)
    ends = [(place.x + d * math.cos(turn), place.y + d * math.sin(turn), place.z) for d in (0.0, 10.0)]
    return by_two_points(((0.0, 0.0, 0.0), (10.0, 0.0, 0.0)), (ends[0], ends[1]))


def halves(model: Model) -> tuple[Model, Model]:
    """A model without its structure, and the structure alone."""
    nothing = replace(model, elements=())
    carries = {e.guid for e in model.elements if e.kind in STRUCTURE}
    rest = {e.guid for e in model.elements} - carries
    return with_elements(model, nothing, carries), with_elements(model, nothing, rest)


def drawn(model: Model, cut: AnyCut) -> tuple[list[tuple[str, str, float]], dict[str, float]]:
    """Cut faces by element and material with their area, mm²; and the length of lines by what they are, mm."""
    result = cut_model(model, cut)
    faces = sorted(
        (model.elements[f.element].guid, model.materials[f.material].name if f.material >= 0 else "",
         float(round(f.polygon.area)))
        for f in result.faces
    )  # fmt: skip
    lengths: dict[str, float] = {}
    spans = np.hypot(*(result.lines.points[:, 2:] - result.lines.points[:, :2]).T)
    for element, length in zip(result.lines.element.tolist(), spans.tolist(), strict=True):
        kind = model.elements[element].kind
        lengths[kind] = lengths.get(kind, 0.0) + length
    return faces, lengths


@pytest.fixture(scope="module")
def split(demo: Model) -> tuple[Model, Model]:
    return halves(demo)


@pytest.mark.parametrize("plan", [True, False], ids=["plan", "section"])
@pytest.mark.parametrize("moved", [AS_IT_IS, PartPlace(x=812.5, y=-40.25, z=3.2, turn=37.0)], ids=["as is", "turned"])
def test_two_parts_are_drawn_as_the_one_file_that_they_were(
    demo: Model, split: tuple[Model, Model], plan: bool, moved: PartPlace
) -> None:
    cut = PlanCut(storey=demo.storeys[1].guid) if plan else LINE
    building, carries = split
    theirs = placed(carries, moved, (0.0, 0.0, 0.0))
    whole = put_together([one_of("a", building), one_of("b", theirs, inverse(moved), "structure")])
    one = with_elements(building, demo, {e.guid for e in carries.elements})
    assert [e.guid for e in whole.elements] == [e.guid for e in one.elements]
    faces, lines = drawn(whole, cut)
    expected, lengths = drawn(one, cut)
    assert [f[:2] for f in faces] == [f[:2] for f in expected]
    assert [f[2] for f in faces] == pytest.approx([f[2] for f in expected], abs=2.0)
    assert sum(lines.values()) == pytest.approx(sum(lengths.values()), rel=1e-3)
    if moved == AS_IT_IS:  # else the last bits say whose a line is where two bodies share it
        assert lines == pytest.approx(lengths, rel=1e-6)


@pytest.mark.parametrize("moved", [AS_IT_IS, PartPlace(x=812.5, y=-40.25, z=3.2, turn=37.0)], ids=["as is", "turned"])
def test_a_part_finds_its_place_by_itself(split: tuple[Model, Model], moved: PartPlace) -> None:
    building, carries = split
    found = proposed_place(building, placed(carries, moved, (0.0, 0.0, 0.0)))
    back = inverse(moved)
    assert found.sure
    assert found.by == ("coordinates" if moved == AS_IT_IS else "grid")
    assert (found.place.x, found.place.y, found.place.z) == pytest.approx((back.x, back.y, back.z), abs=1e-5)
    assert found.place.turn == pytest.approx(back.turn, abs=1e-7)


@settings(max_examples=60, deadline=None)
@given(places, st.lists(st.tuples(metres, metres, metres), min_size=1, max_size=4))
def test_a_place_and_its_inverse_leave_all_where_it_was(place: PartPlace, points: list[tuple[float, ...]]) -> None:
    model = model_of(*(box(p, tuple(v + 1.0 for v in p)) for p in points))
    there = placed(model, place, (1000.0, 0.0, 5.0))
    again = placed(there, inverse(place), (0.0, 0.0, 0.0))
    assert again.mesh.vertices == pytest.approx(model.mesh.vertices, abs=2e-4)
    assert np.abs(there.mesh.volumes(len(points))) == pytest.approx(np.ones(len(points)), rel=1e-6)


def test_by_the_map_conversions_of_both_files() -> None:
    walls = house((Wall("a", 0.0), Wall("b", 4.0)), True)
    a = replace(walls, map_place=MapPlace(500_000.0, 200_000.0, 12.0, system="EPSG:2056"))
    turned = replace(walls, map_place=MapPlace(500_010.0, 200_005.0, 10.0, (0.0, 1.0), system="EPSG:2056"))
    found = proposed_place(a, turned)
    assert found.by == "map"
    assert found.sure
    assert found.place == PartPlace(x=10.0, y=5.0, z=-2.0, turn=90.0)
    other = proposed_place(a, replace(turned, map_place=replace(turned.map_place, system="EPSG:21781")))  # type: ignore[type-var]
    assert not other.sure
    assert "21781" in other.says


def test_what_lies_elsewhere_and_says_nothing_is_asked_about() -> None:
    walls = house((Wall("a", 0.0),), True)
    far = placed(walls, PartPlace(x=400_000.0), (400_000.0, 0.0, 0.0))
    found = proposed_place(walls, replace(far, storeys=(Storey("s", "Elsewhere", 0.0),)))
    assert not found.sure
    assert found.by == "hand"
    assert "two points" in found.says


def test_axes_that_do_not_fit_are_told() -> None:
    def gridded(bend: float) -> Model:
        axes = [GridAxis(n, (x, -5.0), (x, 5.0)) for n, x in (("1", 0.0), ("2", 4.0 + bend))]
        axes += [GridAxis("A", (-5.0, 0.0), (9.0, 0.0))]
        return replace(house((Wall("a", 0.0), Wall("b", 4.0)), True), grid=tuple(axes))

    moved = placed(gridded(0.1), PartPlace(x=100.0), (0.0, 0.0, 0.0))
    found = proposed_place(gridded(0.0), moved)
    assert found.by == "grid"
    assert not found.sure
    assert "miss each other" in found.says


def column(guid: str, x: float, wide: float = 0.3, base: float = 0.0, top: float = 3.0) -> Model:
    model = model_of(box((x, 0.0, base), (x + wide, wide, top)), kinds=["column"])
    return replace(model, elements=tuple(replace(e, guid=guid, name=guid) for e in model.elements))


def test_a_column_of_both_is_drawn_once_and_says_how_far_it_is_off() -> None:
    mine, theirs = column("mine", 0.0), column("theirs", 0.04)
    whole = put_together([one_of("a", mine), one_of("b", theirs, discipline="structure")])
    assert [e.guid for e in whole.elements] == ["theirs"]  # the structure leads for columns
    (found,) = whole.twice
    assert (found.drawn, found.left_out, found.part) == ("theirs", "mine", 0)
    assert found.on_plan == pytest.approx(0.04, abs=1e-4)
    assert found.in_height == 0.0


@pytest.mark.parametrize(("x", "count", "off"), [(0.0, 1, 0.0), (0.004, 1, 0.0), (0.1, 1, 0.1), (0.2, 2, None)])
def test_same_bodies_are_once_and_other_bodies_are_not(x: float, count: int, off: float | None) -> None:
    whole = put_together([one_of("a", column("m", 0.0)), one_of("b", column("t", x), discipline="structure")])
    assert len(whole.elements) == count
    assert [t.on_plan for t in whole.twice] == ([] if off is None else [pytest.approx(off, abs=1e-4)])


def test_two_storeys_of_one_column_are_that_column() -> None:
    split = model_of(box((0, 0, 0), (0.3, 0.3, 3)), box((0, 0, 3), (0.3, 0.3, 6)), kinds=["column", "column"])
    through = column("through", 0.0, top=6.0)
    whole = put_together([one_of("a", split), one_of("b", through, discipline="structure")])
    assert [e.guid for e in whole.elements] == ["through"]
    assert all(t.on_plan == t.in_height == 0.0 for t in whole.twice)
    other = put_together([one_of("a", through), one_of("b", split, discipline="structure")])
    assert [e.guid for e in other.elements] == ["element-0", "element-1"]


def test_a_wall_between_others_that_is_off_is_told() -> None:
    """Its ends lie in the walls that it meets, which both parts have; its face stands 12 mm out."""

    def room(off: float) -> Model:
        ends = (box((0, 0, 0), (4, 0.3, 3)), box((0, 5, 0), (4, 5.3, 3)))
        return model_of(*ends, box((1 + off, 0, 0), (1.3 + off, 5.3, 3)))

    theirs = distinct(room(0.012), {f"element-{k}" for k in range(3)}, "b")
    whole = put_together([one_of("a", room(0.0)), one_of("b", theirs, discipline="structure")])
    assert [t.on_plan for t in whole.twice] == [0.0, 0.0, pytest.approx(0.012, abs=1e-4)]


def test_slanting_walls_beside_each_other_are_two() -> None:
    turn = PartPlace(turn=45.0)
    a = placed(house((Wall("a", 0.0),), True), turn, (0.0, 0.0, 0.0))
    b = placed(house((Wall("b", 0.5),), True), turn, (0.0, 0.0, 0.0))  # 0.12 m beside the other
    whole = put_together([one_of("a", a), one_of("b", b, discipline="structure")])
    assert len(whole.elements) == 2
    assert whole.twice == ()


def test_same_globalids_in_both_parts_are_told_apart_and_stay_so() -> None:
    mine, theirs = house((Wall("w", 0.0),), True), house((Wall("w", 3.0),), True)
    apart = distinct(theirs, {"w"}, "b")
    (element,) = apart.elements
    assert element.guid != "w"
    assert file_guid(element) == "w"
    assert len(element.guid) <= 22
    whole = put_together([one_of("a", mine), one_of("b", apart, discipline="structure")])
    assert len({e.guid for e in whole.elements}) == 2
    again, changes = revised(apart, house((Wall("w", 3.5),), True))
    assert [e.guid for e in again.elements] == [element.guid]
    assert [c.what for c in changes.elements] == ["changed"]


def test_parts_share_storeys_materials_and_are_known_by_element() -> None:
    mine = replace(house((Wall("a", 0.0),), True), storeys=(Storey("g", "Ground", 0.0), Storey("u", "Upper", 3.0)))
    lower = replace(house((Wall("b", 3.0, base=2.9),), True), storeys=(Storey("x", "Level 1", 2.9),))
    whole = put_together([one_of("a", mine), one_of("b", lower, discipline="structure")])
    assert whole.storeys == mine.storeys
    assert [(e.guid, e.part, e.storey) for e in whole.elements] == [("a", 0, 0), ("b", 1, 1)]
    assert [m.name for m in whole.materials] == [m.name for m in mine.materials]
    assert whole.build_ups == mine.build_ups
    assert [p.discipline for p in whole.parts] == ["architecture", "structure"]


def test_a_model_of_parts_is_kept_and_read_again() -> None:
    mine = replace(column("m", 0.0), map_place=MapPlace(1.0, 2.0, 3.0, system="local"))
    whole = put_together([one_of("a", mine), one_of("b", column("t", 0.04), discipline="structure")])
    again = model_from_bytes(model_to_bytes(whole))
    assert (again.parts, again.twice, again.map_place) == (whole.parts, whole.twice, whole.map_place)
    assert again.elements == whole.elements


def test_a_part_without_storeys_stands_in_those_of_the_one_that_leads(tmp_path: Path) -> None:
    house = read_model(write_hut(tmp_path / "house.ifc"))
    bare = placed(read_model(write_hut(tmp_path / "bare.ifc", storeys=False)), PartPlace(x=10.0), (0.0, 0.0, 0.0))
    where = proposed_place(house, bare)
    whole = put_together([one_of("a", house), one_of("b", distinct(bare, (), "b"), where.place, "structure")])
    assert whole.storeys == house.storeys
    assert len(whole.elements) == 10
    assert all(-1 <= e.storey < len(whole.storeys) for e in whole.elements)
    faces, _ = drawn(whole, PlanCut(storey=house.storeys[0].guid))
    assert len({guid for guid, *_ in faces}) == 8  # the walls of both


def test_files_of_three_schemas_and_units_are_one_building(tmp_path: Path) -> None:
    old = read_model(write_hut(tmp_path / "house.ifc", schema="IFC2X3", unit="foot"))
    new, newest = (Hut(tmp_path / f"{schema}.ifc", schema) for schema in ("IFC4", "IFC4X3"))
    new.add("IfcColumn", "Column", [new.box((300, 300, 0), (500, 500, 2300))])
    newest.add("IfcPipeSegment", "Pipe", [newest.box((1000, 1000, 100), (1100, 2000, 200))])
    read = [old, *(read_model(hut.written()) for hut in (new, newest))]
    parts = []
    for name, discipline, model in zip("abc", ("architecture", "structure", "services"), read, strict=True):
        where = proposed_place(old, model)
        assert (where.by, where.sure) == ("coordinates", True)
        parts.append(PlacedPart(Part(name, name, discipline), distinct(model, (), name), where.place))  # type: ignore[arg-type]
    whole = put_together(parts)
    assert whole.kinds == {"column": 1, "services": 1, "slab": 1, "wall": 4}  # the hut itself is in all three
    assert all(not t.differs for t in whole.twice)
    assert [m.schema for m in read] == ["IFC2X3", "IFC4", "IFC4X3_ADD2"]


@pytest.mark.parametrize(
    ("name", "kinds", "said"),
    [
        ("harbour_STRUCT_03.ifc", ["wall", "wall"], ("structure", True)),
        ("x.ifc", ["beam", "column", "footing"], ("structure", True)),
        ("x.ifc", ["wall", "door", "window"], ("architecture", True)),
        ("haustechnik.ifc", ["services", "services"], ("services", True)),
        ("structure.ifc", ["services", "services"], ("services", False)),
        ("x.ifc", ["object", "object"], ("architecture", False)),
    ],
)
def test_whose_a_file_is(name: str, kinds: list[str], said: tuple[str, bool]) -> None:
    bodies = [box((k, 0, 0), (k + 0.5, 1, 1)) for k in range(len(kinds))]
    assert guessed_discipline(name, model_of(*bodies, kinds=kinds)) == said


def test_a_pierced_wall_beside_its_other_half_keeps_its_lines() -> None:
    """What passes through parts shows the line where it does, as in one file."""
    wall = model_of(pierced_box((0, 0, 0), (4, 0.3, 3), (1, 1, 2, 2)))
    pipe = model_of(box((2.5, -1, 1), (2.6, 1, 1.1)), kinds=["services"])
    pipe = replace(pipe, elements=tuple(replace(e, guid="pipe") for e in pipe.elements))
    whole = put_together([one_of("a", wall), one_of("b", pipe, discipline="services")])
    crossed = whole.mesh.triangle_element[whole.mesh.edge_triangles]
    both = (whole.mesh.edge_triangles >= 0).all(axis=1) & (crossed[:, 0] != crossed[:, 1])
    ends = whole.mesh.vertices[whole.mesh.edges[both]]
    assert np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum() == pytest.approx(0.8)  # round it, on either side
