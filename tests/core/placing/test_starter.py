"""Starter sets stand where they explain most, and say why."""

from __future__ import annotations

from dataclasses import replace

import pytest

from edge_slice.core.cut import PlanCut, SectionCut, cut_model
from edge_slice.core.cut.placing.report import cut_report
from edge_slice.core.cut.placing.starter import starter_set
from edge_slice.core.model import Model, Space
from tests.bodies import box, model_of

REACH = (0.3, 1.5)
# a building 20 long and 8 wide: a stair of full rise off the middle, a wall along the middle, a door in the south wall
HOUSE = model_of(
    box((0, 0, 0), (20, 0.3, 3)), box((0, 7.7, 0), (20, 8, 3)), box((0, 0.3, 0), (0.3, 7.7, 3)),
    box((19.7, 0.3, 0), (20, 7.7, 3)), box((0.3, 3.9, 0), (19.7, 4.1, 3)),
    box((14, 5, 0), (18, 6.2, 3)), box((6, 0, 0), (7, 0.3, 2.1)),
    kinds=["wall"] * 5 + ["stair", "door"],
)  # fmt: skip


def section(model: Model, key: str) -> tuple[SectionCut, str]:
    found = next(p for p in starter_set(model, REACH) if p.key == key)
    assert isinstance(found.cut, SectionCut)
    return found.cut, found.why


def test_the_long_section_goes_through_the_stair_and_not_along_a_wall() -> None:
    cut, why = section(HOUSE, "long section")
    assert cut.line == ((-1.5, 5.6), (21.5, 5.6))
    assert why == "through Body 5"
    walls = [p for p in cut_report(HOUSE, cut_model(HOUSE, cut)).passages if p.kind == "wall"]
    assert max(p.end - p.start for p in walls) < 1


def test_the_cross_section_runs_the_short_way() -> None:
    cut, why = section(HOUSE, "cross section")
    assert cut.line[0][0] == cut.line[1][0] == 16.0
    assert why == "through Body 5"


def test_without_a_stair_the_way_in_and_the_tallest_space_count() -> None:
    bare = replace(HOUSE, elements=tuple(replace(e, kind="object") if e.kind == "stair" else e for e in HOUSE.elements))
    cut, why = section(bare, "cross section")
    assert (cut.line[0][0], "way in" in why) == (6.5, True)
    ring = ((10.0, 4.1), (13.0, 4.1), (13.0, 7.7), (10.0, 7.7))
    hall = Space("hall", "01", "Hall", 0, ring, 0.0, 6.0)
    tall, why = section(replace(bare, spaces=(hall,)), "cross section")
    assert (tall.line[0][0], why) == (11.5, "through 01 Hall (tallest space)")


def test_every_storey_and_side_has_its_drawing_at_a_scale_that_fits_a_sheet(demo: Model) -> None:
    found = starter_set(demo, REACH, ("planting",))
    assert [p.cut.storey for p in found if isinstance(p.cut, PlanCut)] == [s.guid for s in demo.storeys[:4]]
    assert [p.key for p in found if p.key.startswith("elevation")] == [
        "elevation north", "elevation east", "elevation south", "elevation west",
    ]  # fmt: skip
    assert {p.scale for p in found} == {50}
    for p in found[-2:]:
        kinds = {x.kind for x in cut_report(demo, cut_model(demo, p.cut)).passages}
        assert {"room", "window"} <= kinds
        assert p.why.startswith("through ")


@pytest.mark.parametrize("storeys", [(), HOUSE.storeys])
def test_a_model_without_storeys_or_rooms_has_one_all_the_same(storeys: tuple) -> None:
    elements = tuple(replace(e, storey=-1 if not storeys else e.storey) for e in HOUSE.elements)
    found = starter_set(replace(HOUSE, storeys=storeys, elements=elements), REACH)
    assert [p.key for p in found if not p.key.startswith("plan")] == [
        "elevation north", "elevation east", "elevation south", "elevation west", "long section", "cross section",
    ]  # fmt: skip
