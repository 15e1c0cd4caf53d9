"""Extents hug what is cut, or what is seen."""

import pytest

from edge_slice.core.cut import Extents, ImpossibleCut, SectionCut, cut_model, leaves_of
from edge_slice.core.cut.placing.fitting import AIR, GROUND, TIGHT, fitted
from edge_slice.core.cut.planes.leaves import MARGIN, whole_window
from tests.bodies import box, model_of

# a wall that is cut, a taller one behind it, a tree that stands far off
MODEL = model_of(
    box((4, 0, 0), (4.3, 6, 3)), box((6, 4, 0), (9, 5, 5)), box((-20, 4, 0), (-19, 5, 9)),
    kinds=["wall", "wall", "planting"],
)  # fmt: skip
CUT = SectionCut(line=((-30, 1), (20, 1)))


def sides(to: str, model: object = MODEL, cut: SectionCut = CUT) -> tuple:
    e = fitted(model, cut_model(model, cut), to)  # type: ignore[arg-type]
    return e.left, e.base, e.right, e.top


def test_extents_fit_what_is_cut_what_is_seen_or_open_to_the_building() -> None:
    assert sides("cut") == pytest.approx((34 - AIR, -AIR, 34.3 + AIR, 3 + AIR))
    assert sides("seen") == pytest.approx((34 - AIR, -AIR, 39 + AIR, 5 + AIR))
    assert sides("building") == (None, None, None, None)


def test_tight_extents_take_in_the_air_and_never_grow() -> None:
    wide = CUT.model_copy(update={"extents": Extents(left=33.0, right=36.0, base=1.0, top=5.0)})
    assert sides("tight", cut=wide) == pytest.approx((34 - TIGHT, 1.0, 34.3 + TIGHT, 3 + TIGHT))
    assert sides("tight", cut=wide.model_copy(update={"extents": Extents(left=33, right=34.1, base=1, top=2)})) == (
        pytest.approx((34 - TIGHT, 1.0, 34.1, 2.0))
    )


def test_cut_ground_gets_room_beside_the_building() -> None:
    land = model_of(box((4, 0, 0), (4.3, 6, 3)), box((-50, -50, -3), (60, 60, 0)), kinds=["wall", "ground"])
    assert sides("cut", land) == pytest.approx((34 - GROUND, -AIR, 34.3 + GROUND, 3 + AIR))


def test_there_must_be_something_to_fit_to() -> None:
    with pytest.raises(ImpossibleCut, match="Nothing of the building is cut"):
        sides("cut", MODEL, SectionCut(line=((-30, 50), (20, 50))))


@pytest.mark.parametrize(
    ("line", "more", "top"),
    [
        ([(0, 1), (20, 1)], {"depth": 2}, 3),  # the taller one stands too far behind
        ([(0, 1), (20, 1)], {"depth": 4}, 5),
        ([(0, 1), (5, 1)], {}, 3),  # or beside
        ([(0, 1), (5, 1)], {"extents": {"right": 9}}, 5),
        ([(0, 4.5), (5, 4.5), (5, 1), (20, 1)], {"depths": (1, 2)}, 3),  # a leg of a step has a depth of its own
        ([(0, 4.5), (5, 4.5), (5, 1), (20, 1)], {"depths": (1, 4)}, 5),
        ([(0, 40), (20, 40)], {}, 5),  # nothing shows: the whole building
    ],
)
def test_open_base_and_top_hug_what_shows(line: list, more: dict, top: float) -> None:
    cut = SectionCut.model_validate({"line": line, **more})
    window = whole_window(leaves_of(MODEL, cut))
    assert (window[1], window[3]) == pytest.approx((-500 * MARGIN, 1000 * (top + MARGIN)))
